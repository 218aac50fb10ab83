import { membersOf, type Requests } from '../demand/requests.ts'
import { limitSeconds } from '../measure/targets.ts'
import { rank } from '../measure/percentile.ts'
import type { Plan, Service, Target } from '../plan/schema.ts'
import { decodeStepSeconds, prefillStepSeconds, type Profile, type TokenProfile } from '../service/profile.ts'

/**
 * What a service's requests demand of any configuration, found once before candidates are tried: sums over the
 * requests that must be served, whichever few are given up, and the sizes at the targets' percentiles.
 */
export interface Demand {
  /** Σ over must-serve requests, each sum trimmed of its largest members on its own: a lower bound term by term */
  prompt: number
  promptSquared: number
  decodeSteps: number
  /** Σ of cached tokens read over all decode steps of the request alone */
  cachedReads: number
  requests: number
  work: number
  promises: TimePromise[]
}

/** A time target with the sizes that decide it. */
interface TimePromise {
  className: string
  target: Extract<Target, { percentile: number }>
  limitSeconds: number
  /** the percentile of prompt (or work) and of output over the counted requests of the class */
  input: number
  output: number
}

/** Requests in this last part of the horizon may be unfinished without harm: they are left out of the sums. */
const LAST_PART = 0.1

export function demandOf(plan: Plan, service: Service, requests: Requests): Demand {
  const total: Demand = { prompt: 0, promptSquared: 0, decodeSteps: 0, cachedReads: 0, requests: 0, work: 0, promises: [] }
  plan.classes.forEach((requestClass, c) => {
    if (requestClass.service !== service.name) return
    const share = Math.max(0, ...requestClass.targets.map(servedShare))
    const members = membersOf(requests, c, plan.horizon.warmupSeconds)
    addTrimmed(total, requests, members, share, plan.horizon.seconds * (1 - LAST_PART))
    for (const target of requestClass.targets) {
      if (target.measure === 'lost' || target.measure === 'throughput' || members.length === 0) continue
      const at = (values: Int32Array) => Float64Array.from(members, (i) => values[i]).sort()[rank(members.length, target.percentile / 100) - 1]
      total.promises.push({
        className: requestClass.name, target, limitSeconds: limitSeconds(target, plan.margin), input: at(requests.input), output: at(requests.output),
      })
    }
  })
  return total
}

/** Share of a class's requests that must be served for a target to hold. */
function servedShare(target: Target): number {
  if (target.measure === 'throughput') return 0
  return target.measure === 'lost' ? 1 - target.share : target.percentile / 100
}

function addTrimmed(total: Demand, requests: Requests, members: Int32Array, share: number, untilSeconds: number): void {
  // A miss may be any request, of the last part or not: the number that may miss is taken off what is summed.
  const mayMiss = members.length - Math.ceil(share * members.length - 1e-9)
  const summed = members.filter((i) => requests.at[i] < untilSeconds)
  const keep = Math.max(0, summed.length - mayMiss)
  const smallest = (value: (i: number) => number) => {
    const sorted = Float64Array.from(summed, value).sort()
    let sum = 0
    for (let i = 0; i < keep; i++) sum += sorted[i]
    return sum
  }
  const { input, output } = requests
  total.requests += keep
  total.prompt += smallest((i) => input[i])
  total.promptSquared += smallest((i) => input[i] ** 2)
  total.decodeSteps += smallest((i) => Math.max(0, output[i] - 1))
  total.cachedReads += smallest((i) => Math.max(0, output[i] - 1) * (input[i] + output[i] / 2))
  total.work += smallest((i) => input[i])
}

/**
 * Seconds of replica time that the demand needs at the very least, however well it is packed (docs/model.md, "Bounds").
 */
export function leastBusySeconds(demand: Demand, profile: Profile): number {
  if (profile.kind === 'batch') {
    return (profile.baseSeconds / profile.maxBatch) * demand.requests + profile.secondsPerWorkUnit * demand.work
  }
  const prefill = profile.prefillSecondsPerToken * demand.prompt + profile.prefillSecondsPerTokenSquared * demand.promptSquared
  const read = leastShare(profile, (n) => profile.memorySeconds[n] + profile.overheadSeconds[n])
  const reckon = leastShare(profile, (n) => profile.arithmeticSeconds[n] + profile.overheadSeconds[n])
  const byMemory = read * demand.decodeSteps + profile.cacheSecondsPerToken * demand.cachedReads
  return prefill + Math.max(byMemory, reckon * demand.decodeSteps)
}

/** The smallest share of a step that one of n sequences can bear: min over n of cost(n)/n. */
function leastShare(profile: TokenProfile, cost: (n: number) => number): number {
  let least = Infinity
  for (let n = 1; n <= profile.maxSequences; n++) least = Math.min(least, cost(n) / n)
  return least
}

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

function alone(promise: TimePromise, profile: Profile): number {
  if (promise.target.measure === 'wait') return 0
  if (profile.kind === 'batch') return profile.baseSeconds + profile.secondsPerWorkUnit * promise.input
  if (promise.target.measure === 'tpot') return leastStep(profile)
  if (promise.target.measure === 'ttft') return prefillStepSeconds(profile, promise.input, promise.input ** 2)
  return Math.max(prefillStepSeconds(profile, promise.input, promise.input ** 2), (promise.output - 1) * leastStep(profile))
}

function leastStep(profile: TokenProfile): number {
  let least = Infinity
  for (let n = 1; n <= profile.maxSequences; n++) least = Math.min(least, decodeStepSeconds(profile, n, 0))
  return least
}
