import { follows, type Requests } from '../demand/requests.ts'

/**
 * Seconds in which a service that sleeps is awake at the least: from every arrival until the idle time after it. Whoever
 * has a caller keeps a replica, and whoever had one keeps it for the idle time.
 */
export function leastAwakeSeconds(requests: Requests, idleSeconds: number, horizonSeconds: number): number {
  let awake = 0
  let until = 0
  for (let i = 0; i < requests.count; i++) {
    if (follows(requests, i)) continue // when followers come depends on the run
    const at = requests.at[i]
    if (at >= horizonSeconds) break
    const end = Math.min(horizonSeconds, at + idleSeconds)
    if (end > until) awake += end - Math.max(at, until)
    until = Math.max(until, end)
  }
  return awake
}
