import type { Target } from '../plan/schema.ts'
import { interval95, type Interval } from './interval.ts'
import { limitOf } from './targets.ts'

/**
 * `meets`: the whole interval is on the right side; `likely`: only the mean is; `misses`: not even that.
 * A search never reports `likely` as `meets`.
 */
export type Certainty = 'meets' | 'likely' | 'misses'

/** What several independent runs say of one target together. */
export function certainty(
  values: readonly (number | undefined)[],
  target: Target,
  margin: number,
): { certainty: Certainty; interval: Interval | undefined } {
  const { limit, smallerIsBetter } = limitOf(target, margin)
  const known = values.filter((v): v is number => v !== undefined)
  const found = interval95(known)
  if (found === undefined) return { certainty: smallerIsBetter ? 'meets' : 'misses', interval: found }
  // No time, share or throughput lies below 0, whatever a symmetric interval says.
  const interval = { ...found, low: Math.max(Math.min(0, found.mean), found.low) }
  const right = (v: number) => (smallerIsBetter ? v <= limit : v >= limit)
  const worst = smallerIsBetter ? interval.high : interval.low
  return { certainty: right(worst) ? 'meets' : right(interval.mean) ? 'likely' : 'misses', interval }
}
