import { exp } from '../arithmetic/sameBits.ts'
import { remembered } from '../demand/remembered.ts'
import { cachedTokens, type Requests } from '../demand/requests.ts'
import { drawOf } from '../random/mixer.ts'
import { normalQuantile } from '../random/normalQuantile.ts'
import { spreadOf } from '../random/spread.ts'
import type { DrawnSeconds, SoldProfile } from '../service/profile.ts'
import type { ClassRules } from './rules.ts'

/** Keep the draws of a request's times apart from other draws of it. */
const FIRST = 600
const EACH = 601
/** Half a step of the draws: neither 0 nor 1, whose quantiles are infinite. */
const HALF_STEP = 1 / 8_589_934_592

/** By request, seconds from its start to its first token, and to its last; reckoned when somebody asks. */
export interface SoldTimes {
  first: (request: number) => number
  whole: (request: number) => number
}

/** What requests take of something sold by tokens: drawn for each, the same whoever else is there. */
export function soldTimes(profile: SoldProfile, requests: Requests, classes: readonly ClassRules[], seed: number): SoldTimes {
  const { firstToken, eachToken, secondsPerInputToken } = profile
  const shares = classes.map((c) => c.cachedShare)
  const key = `sold, seed ${seed}: ${JSON.stringify([firstToken, eachToken, secondsPerInputToken, shares])}`
  // The same for every candidate.
  const known = remembered(requests, key, () => ({
    first: new Float64Array(requests.count).fill(NaN),
    whole: new Float64Array(requests.count).fill(NaN),
  }))
  const reckon = (i: number): void => {
    const input = requests.input[i]
    const fresh = input - cachedTokens(input, shares[requests.classIndex[i]])
    known.first[i] = drawn(firstToken, seed, i, FIRST) + secondsPerInputToken * fresh
    known.whole[i] = known.first[i] + Math.max(0, requests.output[i] - 1) * drawn(eachToken, seed, i, EACH)
  }
  const of = (times: Float64Array) => (request: number) => {
    if (times[request] !== times[request]) reckon(request)
    return times[request]
  }
  return { first: of(known.first), whole: of(known.whole) }
}

function drawn({ median, p95 }: DrawnSeconds, seed: number, request: number, purpose: number): number {
  const spread = spreadOf(median, p95)
  return spread === 0 ? median : median * exp(spread * normalQuantile(drawOf(seed, request, purpose) + HALF_STEP))
}
