import type { Profile } from '../service/profile.ts'

export type Routing = 'least-busy' | 'shared-queue'

/** One service as the engine needs it: a fixed fleet of equal replicas and the rules in front of it. */
export interface ServiceRules {
  profile: Profile
  routing: Routing
  /** requests that may wait in the whole service; Infinity for no limit */
  queueLimit: number
  /** seconds, by class index; Infinity for endless patience */
  patienceSeconds: readonly number[]
  /** when each replica is ready, seconds; Infinity for never */
  readyAtSeconds: Float64Array
  horizonSeconds: number
}

/**
 * Times closer than this are one instant, in seconds. A leap computes boundaries in closed form and a walk adds
 * them up, so that equal times differ by rounding; "arrivals come before step ends of the same instant" must not
 * depend on that. A millionth of the promised 1 µs would drown in a year's float64; a thousandth does not.
 */
export const INSTANT_SECONDS = 1e-9

/** A fleet of `replicas` that is ready all at once. */
export function readyTogether(replicas: number, atSeconds: number): Float64Array {
  return new Float64Array(replicas).fill(atSeconds)
}
