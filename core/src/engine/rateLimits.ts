import type { Requests } from '../demand/requests.ts'
import type { ClassRules } from './rules.ts'

/** Forgives the rounding of a bucket that is refilled to exactly what an arrival costs. */
const SLACK = 1e-9

/** A token bucket for each class that has a limit. */
export class RateLimits {
  /** whether any class has a limit */
  readonly matter: boolean
  private readonly classes: readonly ClassRules[]
  private readonly level: Float64Array
  private readonly last: Float64Array

  constructor(classes: readonly ClassRules[]) {
    this.classes = classes
    this.matter = classes.some((c) => c.rateLimit !== undefined)
    this.level = Float64Array.from(classes, (c) => c.rateLimit?.burst ?? Infinity)
    this.last = new Float64Array(classes.length)
  }

  /** Takes what a request costs out of its class's bucket, or says no and takes nothing. */
  admits(requests: Requests, request: number, now: number): boolean {
    const c = requests.classIndex[request]
    const limit = this.classes[c].rateLimit
    if (!limit) return true
    this.level[c] = Math.min(limit.burst, this.level[c] + (now - this.last[c]) * limit.perSecond)
    this.last[c] = now
    const cost = limit.unit === 'requests' ? 1 : requests.input[request] + requests.output[request]
    if (this.level[c] < cost - SLACK) return false
    this.level[c] -= cost
    return true
  }
}
