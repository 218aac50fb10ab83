import type { Policy } from './policy.ts'
import { WEEK_SECONDS, type AheadRule, type ScalingContext } from './rules.ts'

/** Replicas for the load one lead time ahead: as the plan expects it, or as it was a week before that. */
export function aheadPolicy(
  { from, perReplica, leadSeconds }: AheadRule,
  { expectedRate }: ScalingContext,
  intervalSeconds: number,
): Policy {
  /** what arrived between readings, by reading */
  const past: number[] = []
  return (seen) => {
    past.push(seen.arrivalsPerSecond(intervalSeconds))
    const then = seen.now + leadSeconds
    const rate = from === 'plan' ? expectedRate(then) : past[Math.round((then - WEEK_SECONDS) / intervalSeconds) - 1]
    return rate === undefined ? undefined : { replicas: Math.ceil(rate / perReplica - 1e-9), cause: 'expected' }
  }
}
