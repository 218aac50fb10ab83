import { square } from '../arithmetic/sameBits.ts'
import { remembered } from '../demand/remembered.ts'
import { cachedTokens, follows, membersOf, type Requests } from '../demand/requests.ts'
import { percentileOf } from '../measure/percentile.ts'
import { hourOf, leastOfHour } from '../measure/readingHours.ts'
import { kthSmallest } from '../measure/select.ts'
import { limitSeconds } from '../measure/targets.ts'
import { wayPromised } from '../plan/way.ts'
import type { Plan, Service, Target } from '../plan/schema.ts'

/**
 * What a service's requests demand of any configuration, whichever few are given up: sums over the requests that must be
 * served, each trimmed of its largest members on its own and so a lower bound term by term, and the sizes at the targets'
 * percentiles. A sum is found when it is first asked for: no kind of service asks for all.
 */
export class Demand {
  readonly promises: readonly TimePromise[]
  private readonly parts: readonly Part[]

  constructor(parts: readonly Part[], promises: readonly TimePromise[]) {
    this.parts = parts
    this.promises = promises
  }

  get requests(): number {
    return this.parts.reduce((sum, { keep }) => sum + keep, 0)
  }

  get prompt(): number {
    return this.sum('prompt', ({ input }, i, cached) => input[i] - cachedTokens(input[i], cached))
  }

  get promptSquared(): number {
    return this.sum('prompt squared', ({ input }, i, cached) => square(input[i]) - square(cachedTokens(input[i], cached)))
  }

  get decodeTokens(): number {
    return this.sum('decode tokens', ({ output }, i) => Math.max(0, output[i] - 1))
  }

  /** cached tokens read over all decode steps of each request alone, a token a step */
  get cachedReads(): number {
    return this.sum('cached reads', ({ input, output }, i) => Math.max(0, output[i] - 1) * (input[i] + output[i] / 2))
  }

  get items(): number {
    return this.sum('items', ({ output }, i) => Math.max(1, output[i]))
  }

  get work(): number {
    return this.sum('work', ({ input, output }, i) => input[i] * Math.max(1, output[i]))
  }

  private sum(name: string, value: (requests: Requests, i: number, cachedShare: number) => number): number {
    return this.parts.reduce((total, part) => total + remembered(part.requests, `${name}, ${part.name}`, () => smallestOf(part, value)), 0)
  }
}

/** The requests of one class that are summed, and how many of them at the least. */
interface Part {
  requests: Requests
  summed: Int32Array
  keep: number
  cachedShare: number
  /** tells it from other parts of the same requests */
  name: string
}

/** A time target with the sizes that decide it. */
export interface TimePromise {
  className: string
  target: Extract<Target, { percentile: number }>
  limitSeconds: number
  /** what the way takes of it */
  waySeconds: number
  /** the percentile of prompt (or work) over the counted requests of the class, and of its part that is not cached */
  input: number
  newInput: number
  output: number
}

/** Requests in this last part of the horizon may be unfinished without harm: they are left out of the sums. */
const LAST_PART = 0.1

export function demandOf(plan: Plan, service: Service, requests: Requests): Demand {
  const parts: Part[] = []
  const promises: TimePromise[] = []
  plan.classes.forEach((requestClass, c) => {
    if (requestClass.service !== service.name) return
    const share = Math.max(0, ...requestClass.targets.map(servedShare))
    const key = `class ${c} from ${plan.horizon.warmupSeconds} s`
    const members = remembered(requests, key, () => membersOf(requests, c, plan.horizon.warmupSeconds))
    parts.push(partOf(requests, c, members, share, plan.horizon, requestClass.cachedShare ?? 0))
    // Which followers come, and so whose size is at the percentile, depends on the configuration.
    if (remembered(requests, `${key} follow`, () => members.some((i) => follows(requests, i)))) return
    for (const target of requestClass.targets) {
      if (target.measure === 'lost' || target.measure === 'throughput') continue
      const { percentile, over } = target
      const sizes = remembered(requests, `${key} ${percentile} ${over ?? ''}`, () =>
        sizesAt(requests, over === 'worst-hour' ? ofReadHours(requests, members, percentile) : members, percentile / 100),
      )
      if (!sizes) continue
      const newInput = sizes.input - cachedTokens(sizes.input, requestClass.cachedShare ?? 0)
      promises.push({
        className: requestClass.name,
        target,
        limitSeconds: limitSeconds(target, plan.margin),
        waySeconds: wayPromised(requestClass, target),
        ...sizes,
        newInput,
      })
    }
  })
  return new Demand(parts, promises)
}

/** The percentile of the sizes of some requests; undefined of none. */
function sizesAt({ input, output }: Requests, members: Int32Array, share: number): { input: number; output: number } | undefined {
  if (members.length === 0) return undefined
  const values = new Float64Array(members.length)
  const at = (of: Int32Array) => {
    for (let i = 0; i < values.length; i++) values[i] = of[members[i]]
    return percentileOf(values, share) ?? 0
  }
  return { input: at(input), output: at(output) }
}

/**
 * Those who arrive in hours that are read. Where every hour keeps its promise to a share of its requests, all of them
 * together do: the misses that hours may have add up to no more than all may have.
 */
function ofReadHours(requests: Requests, members: Int32Array, percentile: number): Int32Array {
  const { at } = requests
  const counts = new Int32Array(members.length === 0 ? 0 : members.reduce((last, i) => Math.max(last, hourOf(at[i])), 0) + 1)
  for (let k = 0; k < members.length; k++) counts[hourOf(at[members[k]])]++
  const least = leastOfHour(percentile)
  return members.filter((i) => counts[hourOf(at[i])] >= least)
}

/** Share of a class's requests that must be served for a target to hold; by the hour nobody asks about the quiet ones. */
function servedShare(target: Target): number {
  if (target.measure === 'throughput' || ('over' in target && target.over === 'worst-hour')) return 0
  return target.measure === 'lost' ? 1 - target.share : target.percentile / 100
}

function partOf(
  requests: Requests,
  classIndex: number,
  members: Int32Array,
  share: number,
  { seconds, warmupSeconds }: Plan['horizon'],
  cachedShare: number,
): Part {
  // A miss may be any request, of the last part or not: the number that may miss is taken off what is summed.
  const mayMiss = members.length - Math.ceil(share * members.length - 1e-9)
  const untilSeconds = seconds * (1 - LAST_PART)
  const name = `summed of class ${classIndex} from ${warmupSeconds} s until ${untilSeconds} s`
  const summed = remembered(requests, name, () => members.filter((i) => requests.at[i] < untilSeconds && !follows(requests, i)))
  const keep = Math.max(0, summed.length - mayMiss)
  return { requests, summed, keep, cachedShare, name: `${name}, ${keep} of them, ${cachedShare} cached` }
}

/** Sum of as many of the smallest values as must be served. */
function smallestOf(
  { requests, summed, keep, cachedShare }: Part,
  value: (requests: Requests, i: number, cachedShare: number) => number,
): number {
  if (keep === 0) return 0
  const values = new Float64Array(summed.length)
  for (let i = 0; i < values.length; i++) values[i] = value(requests, summed[i], cachedShare)
  kthSmallest(values, values.length, keep - 1) // leaves those that are no larger before it
  let sum = 0
  for (let i = 0; i < keep; i++) sum += values[i]
  return sum
}
