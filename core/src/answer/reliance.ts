import type { Requests } from '../demand/requests.ts'
import { relianceWords } from '../explain/calibrationWords.ts'
import { isPriced } from '../candidate/stated.ts'
import type { Candidate } from '../candidate/candidate.ts'
import { hasTokens, type Profile } from '../service/profile.ts'

/** What the step costs of a configuration rely on, and how far it goes beyond what was measured: sentences without a full stop. */
export function relianceOf(candidate: Candidate, profile: Profile, requests: Requests): string[] {
  const { fit, sequences } = candidate
  const { calibration, found } = fit.fits ? fit : {}
  return [
    ...(profile.kind === 'sold'
      ? ['its times are those that are stated of what is sold']
      : relianceWords(profile.source, calibration ?? found, { sequences, ...largestSizes(requests, profile) })),
    ...(isPriced(candidate) ? [] : ['no price of a replica is stated, so that it counts as nothing']),
  ]
}

/** The largest sizes that a service sees. */
function largestSizes(requests: Requests, profile: Profile): { input?: number; output?: number; work?: number } {
  const largest = (values: Int32Array) => values.subarray(0, requests.count).reduce((a, b) => Math.max(a, b), 0)
  return hasTokens(profile) ? { input: largest(requests.input), output: largest(requests.output) } : { work: largest(requests.input) }
}
