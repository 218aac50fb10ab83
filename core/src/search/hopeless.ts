import { square } from '../arithmetic/sameBits.ts'
import {
  aloneSeconds,
  decodeStepSeconds,
  prefillStepSeconds,
  type DrawnSeconds,
  type Profile,
  type SoldProfile,
  type TokenProfile,
} from '../service/profile.ts'
import type { Demand } from './demanded.ts'
import { type TimePromise } from './demanded.ts'

/** A promise that no number of replicas can keep, with the best that one idle replica could do for it. */
export interface Hopeless {
  className: string
  target: TimePromise['target']
  limitSeconds: number
  aloneSeconds: number
}

/** The first target that is missed even by a request alone on an idle replica. */
export function hopeless(demand: Demand, profile: Profile): Hopeless | undefined {
  for (const promise of demand.promises) {
    const aloneSeconds = alone(promise, profile)
    if (aloneSeconds > promise.limitSeconds) {
      return { className: promise.className, target: promise.target, limitSeconds: promise.limitSeconds, aloneSeconds }
    }
  }
  return undefined
}

/** How many times the least time that a promise takes alone on an idle replica its limit is, for the promise that has least of it. */
export function slack(demand: Demand, profile: Profile): number {
  return demand.promises.reduce(
    (least, promise) => Math.min(least, promise.limitSeconds / Math.max(1e-12, alone(promise, profile))),
    Infinity,
  )
}

/** The least that a promise takes, with the way where it is kept at the caller. */
const alone = (promise: TimePromise, profile: Profile) => promise.waySeconds + servedAlone(promise, profile)

function servedAlone(promise: TimePromise, profile: Profile): number {
  if (promise.target.measure === 'wait') return 0
  if (profile.kind === 'sold') return soldAlone(promise, profile)
  if (profile.kind === 'shared') return aloneSeconds(profile, promise.input, 1)
  if (profile.kind === 'batch')
    return (
      least(profile.maxBatch, (b) => profile.baseSeconds[b]) + least(profile.maxBatch, (b) => profile.secondsPerWorkUnit[b]) * promise.input
    )
  const perToken = least(profile.maxSequences, (n) => decodeStepSeconds(profile, n, 0)) / profile.tokensPerStep
  if (promise.target.measure === 'tpot') return perToken
  const first = firstTokenAlone(promise, profile)
  return promise.target.measure === 'ttft' ? first : Math.max(first, (promise.output - 1) * perToken)
}

/** Of times that are drawn no least is known. */
function soldAlone({ target, newInput, output }: TimePromise, { firstToken, eachToken, secondsPerInputToken }: SoldProfile): number {
  const leastOf = ({ median, p95 }: DrawnSeconds) => (p95 > median ? 0 : median)
  if (target.measure === 'tpot') return leastOf(eachToken)
  const first = leastOf(firstToken) + secondsPerInputToken * newInput
  return target.measure === 'ttft' ? first : Math.max(first, (output - 1) * leastOf(eachToken))
}

function firstTokenAlone({ input, newInput }: TimePromise, profile: TokenProfile): number {
  const squares = square(input) - square(input - newInput)
  if (profile.prompts === 'whole') return prefillStepSeconds(profile, newInput, squares)
  const steps = Math.ceil(newInput / profile.stepTokens)
  const memory = steps * least(profile.maxSequences, (n) => profile.memorySeconds[n])
  const overhead = steps * least(profile.maxSequences, (n) => profile.overheadSeconds[n])
  return (
    Math.max(memory, profile.prefillSecondsPerToken * newInput) +
    overhead +
    profile.prefillExchangeSecondsPerToken * newInput +
    profile.prefillSecondsPerTokenSquared * squares
  )
}

export function least(most: number, cost: (n: number) => number): number {
  let best = Infinity
  for (let n = 1; n <= most; n++) best = Math.min(best, cost(n))
  return best
}
