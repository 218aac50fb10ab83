import { exp, ln } from '../arithmetic/sameBits.ts'
import { remembered } from '../demand/remembered.ts'
import type { Requests } from '../demand/requests.ts'
import { drawOf } from '../random/mixer.ts'
import { firstAbove } from '../units/ascending.ts'
import type { ClassRules, OfferLimit, ServiceRules } from './rules.ts'

/** Forgives the rounding of a bucket that is refilled to exactly what an arrival costs. */
const SLACK = 1e-9
/** Keeps the draw of a caller apart from other draws of a request. */
const CALLER = 500

/** What a bucket takes for a request. */
const COST: Record<OfferLimit['unit'], (requests: Requests, request: number) => number> = {
  requests: () => 1,
  tokens: ({ input, output }, request) => input[request] + output[request],
  input: ({ input }, request) => input[request],
  output: ({ output }, request) => output[request],
}

/** Token buckets: one for each class that has a limit, or one for each of its callers, and those of the offer for all together. */
export class RateLimits {
  /** whether anything has a limit */
  readonly matter: boolean
  private readonly classes: readonly ClassRules[]
  private readonly offer: readonly OfferLimit[]
  /** place of a class's first bucket; those of the offer come after all of them */
  private readonly first: Int32Array
  private readonly offerAt: number
  private readonly level: Float64Array
  private readonly last: Float64Array
  /** by request, which of the callers of its class it is from; undefined where no class tells them apart */
  private readonly caller: Int32Array | undefined

  constructor({ classes, seed, offerLimits = [] }: Pick<ServiceRules, 'classes' | 'seed' | 'offerLimits'>, requests: Requests) {
    this.classes = classes
    this.offer = offerLimits
    this.matter = offerLimits.length > 0 || classes.some((c) => c.rateLimit !== undefined)
    const counts = classes.map((c) => c.rateLimit?.callers?.count ?? 1)
    this.first = Int32Array.from(classes, (_, c) => counts.slice(0, c).reduce((a, b) => a + b, 0))
    this.offerAt = counts.reduce((a, b) => a + b, 0)
    const bursts = classes.flatMap((c, i) => new Array<number>(counts[i]).fill(c.rateLimit?.burst ?? Infinity))
    this.level = Float64Array.from([...bursts, ...offerLimits.map((o) => o.burst)])
    this.last = new Float64Array(this.level.length)
    const told = classes.map((c) => c.rateLimit?.callers)
    // The same for every candidate.
    this.caller = told.some(Boolean)
      ? remembered(requests, `callers of seed ${seed}: ${JSON.stringify(told)}`, () => callersOf(classes, requests, seed))
      : undefined
  }

  /** Takes what a request costs out of its buckets, or says no and takes nothing. */
  admits(requests: Requests, request: number, now: number): boolean {
    const c = requests.classIndex[request]
    const { rateLimit } = this.classes[c]
    const own = this.first[c] + (this.caller?.[request] ?? 0)
    if (rateLimit && !this.affords(own, rateLimit, COST[rateLimit.unit](requests, request), now)) return false
    for (let i = 0; i < this.offer.length; i++) {
      const limit = this.offer[i]
      if (!this.affords(this.offerAt + i, limit, COST[limit.unit](requests, request), now)) return false
    }
    if (rateLimit) this.level[own] -= COST[rateLimit.unit](requests, request)
    for (let i = 0; i < this.offer.length; i++) this.level[this.offerAt + i] -= COST[this.offer[i].unit](requests, request)
    return true
  }

  /** Refills a bucket, and says whether it has so much. */
  private affords(bucket: number, { burst, perSecond }: Pick<OfferLimit, 'burst' | 'perSecond'>, cost: number, now: number): boolean {
    const { level, last } = this
    level[bucket] = Math.min(burst, level[bucket] + (now - last[bucket]) * perSecond)
    last[bucket] = now
    return level[bucket] >= cost - SLACK
  }
}

/** Who each request is from: drawn by its own draw, and the same who sends what follows it. */
export function callersOf(classes: readonly ClassRules[], { count, classIndex, chain }: Requests, seed: number): Int32Array {
  const shares = classes.map((c) => sharesOf(c.rateLimit?.callers))
  const out = new Int32Array(count).fill(-1)
  for (let i = 0; i < count; i++) {
    const share = shares[classIndex[i]]
    if (out[i] < 0) out[i] = share ? Math.min(share.length - 1, firstAbove(share, drawOf(seed, i, CALLER) * share[share.length - 1])) : 0
    const next = chain?.next[i] ?? -1
    if (next >= 0 && classIndex[next] === classIndex[i]) out[next] = out[i]
  }
  return out
}

/** Sums of the weights k^−skew of callers 1, 2, …; undefined where they are not told apart. */
function sharesOf(callers: NonNullable<ClassRules['rateLimit']>['callers']): Float64Array | undefined {
  if (!callers) return undefined
  const { count, skew = 0 } = callers
  let sum = 0
  return Float64Array.from({ length: count }, (_, k) => (sum += exp(-skew * ln(k + 1))))
}
