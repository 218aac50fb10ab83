import type { FleetLife } from '../life/fleet.ts'
import type { Routing } from '../plan/ways.ts'
import type { Profile } from '../service/profile.ts'

/** How a refused or impatient caller comes again. */
export interface Retries {
  /** further attempts after the first */
  most: number
  firstPauseSeconds: number
  /** each pause is this many times the one before, at least 1 */
  growth: number
  /** share by which a pause is drawn shorter or longer, evenly, 0…1 */
  jitter: number
}

/** A token bucket: full at the start, refilled steadily up to `burst`; an arrival that it can not pay is refused. */
export interface RateLimit {
  /** what an arrival pays: 1, or its prompt and answer tokens */
  unit: 'requests' | 'tokens'
  perSecond: number
  burst: number
  /** a bucket for each of so many callers, the k-th of whom sends a share like k^−skew; one for all if left out */
  callers?: { count: number; skew?: number | undefined } | undefined
}

/** A token bucket of all classes together, of what an offer lets a key ask for. */
export interface OfferLimit {
  /** what an arrival pays: 1, its prompt and answer tokens, or one of them */
  unit: 'requests' | 'tokens' | 'input' | 'output'
  perSecond: number
  burst: number
}

/** What is particular to the requests of one class. */
export interface ClassRules {
  /** higher is admitted first; nobody in service is interrupted */
  priority: number
  /** seconds; Infinity for endless patience */
  patienceSeconds: number
  /** share of each prompt that is in the cache already, 0…1; at least one token is always worked through */
  cachedShare: number
  retries?: Retries
  rateLimit?: RateLimit
}

/** One service as the engine needs it: a fleet of equal replicas and the rules in front of it. */
export interface ServiceRules {
  profile: Profile
  routing: Routing
  /** for the draws of two-choice and of jitter; each belongs to its request, so that candidates see the same ones */
  seed: number
  /** requests that may wait in the whole service; Infinity for no limit */
  queueLimit: number
  /** by class index */
  classes: readonly ClassRules[]
  /** of the offer that it is run on; none if left out */
  offerLimits?: readonly OfferLimit[]
  /** when each replica is ready, seconds; Infinity for never. Not looked at when there is a life of its own */
  readyAtSeconds: Float64Array
  /** how replicas come and go, made anew for each run; a fleet that is ready at the times above when left out */
  life?: () => FleetLife
  horizonSeconds: number
}

/**
 * Times closer than this are one instant, in seconds. A leap computes boundaries in closed form and a walk adds
 * them up, so that equal times differ by rounding; "arrivals come before step ends of the same instant" must not
 * depend on that. A millionth of the promised 1 µs would drown in a year's float64; a thousandth does not.
 */
export const INSTANT_SECONDS = 1e-9

/** A time in whole nanoseconds: what decides which of two step ends comes first. */
export const instantOf = (seconds: number): number => Math.round(seconds * 1e9)

/** Slack for token counts that are sums of fractions (draft tokens): far below one token, far above rounding. */
export const TOKEN_SLACK = 1e-6

/** A fleet of `replicas` that is ready all at once. */
export function readyTogether(replicas: number, atSeconds: number): Float64Array {
  return new Float64Array(replicas).fill(atSeconds)
}
