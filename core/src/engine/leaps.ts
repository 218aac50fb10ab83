import { INSTANT_SECONDS } from './rules.ts'

/*
 * Between two changes of composition all steps have the same n, and k grows by the same amount each step. Step i (from 0)
 * then costs max(a + i·s, c) + o + i·q: flat until a + i·s reaches c, then growing, and beside it o + i·q (q > 0 where a
 * long prompt is taken in chunks and each has more before it). The sum of j steps is two arithmetic series.
 */

// Each replica's leap is eight numbers side by side, so that a look at one brings all into the processor's cache.
const START = 0
const PLANNED = 1
const A = 2
const S = 3
const C = 4
const O = 5
const Q = 6
const FLAT = 7
const STRIDE_BITS = 3

/** Beyond this distance from a whole number rounding of a root can not decide. */
const NEAR = 1e-6

/** The leap that each replica is in: its coefficients, and sums over its steps in closed form. */
export class Leaps {
  private readonly state: Float64Array
  /** steps of a leap at the most */
  private readonly most: number

  constructor(replicas: number, most = Infinity) {
    this.most = most
    this.state = new Float64Array(replicas << STRIDE_BITS)
  }

  /** when the leap of a replica began, seconds */
  startOf(replica: number): number {
    return this.state[(replica << STRIDE_BITS) + START]
  }

  /** steps after which it ends, unless it is cut */
  plannedOf(replica: number): number {
    return this.state[(replica << STRIDE_BITS) + PLANNED]
  }

  /**
   * Begins a leap of a replica.
   *
   * @param wanted steps, of which no more than the most are taken
   * @param a seconds to read weights and cache in the first step
   * @param s seconds by which that grows each step, ≥ 0
   * @param c seconds of arithmetic, the same for each step
   * @param o seconds beside both in the first step
   * @param q seconds by which o grows each step, ≥ 0
   * @returns when it ends
   */
  begin(replica: number, now: number, wanted: number, a: number, s: number, c: number, o: number, q: number): number {
    const { state, most } = this
    const steps = wanted < most ? wanted : most
    const at = replica << STRIDE_BITS
    let flat = 0
    // First steps whose maximum is c because a + i·s is still below it.
    if (a < c) flat = s > 0 ? Math.ceil((c - a) / s) : Infinity
    state[at + START] = now
    state[at + PLANNED] = steps
    state[at + A] = a
    state[at + S] = s
    state[at + C] = c
    state[at + O] = o
    state[at + Q] = q
    state[at + FLAT] = flat
    return now + sumOf(steps, a, s, c, o, q, flat)
  }

  /** Seconds of the first j steps, j ≥ 0. */
  seconds(replica: number, j: number): number {
    const { state } = this
    const at = replica << STRIDE_BITS
    return sumOf(j, state[at + A], state[at + S], state[at + C], state[at + O], state[at + Q], state[at + FLAT])
  }

  /**
   * Ends the leap at its first boundary at or after a time, or when it was to end anyway.
   * @returns when it ends
   */
  cut(replica: number, time: number): number {
    const { state } = this
    const at = replica << STRIDE_BITS
    const start = state[at + START]
    const j = this.stepsUntil(replica, time - start)
    state[at + PLANNED] = j
    return start + sumOf(j, state[at + A], state[at + S], state[at + C], state[at + O], state[at + Q], state[at + FLAT])
  }

  /**
   * The smallest number of steps, 1…planned, after which `seconds` have passed: the inverse of {@link seconds}.
   * When even all planned ones take less, it is all of them.
   */
  stepsUntil(replica: number, seconds: number): number {
    const { state } = this
    const at = replica << STRIDE_BITS
    const most = state[at + PLANNED]
    const flat = state[at + FLAT]
    const a = state[at + A]
    const s = state[at + S]
    const c = state[at + C]
    const o = state[at + O]
    const q = state[at + Q]
    let guess = 0
    if (flat === 0) guess = rootOf(a + o, s + q, seconds)
    else {
      const flatEnds = flat < most ? sumOf(flat, a, s, c, o, q, flat) : Infinity
      guess = seconds <= flatEnds ? rootOf(c + o, q, seconds) : flat + rootOf(a + flat * s + o + flat * q, s + q, seconds - flatEnds)
    }
    let j = Math.ceil(guess)
    if (!(j < most)) j = most
    if (!(j > 1)) j = 1
    // The root is rounded: where it is so near a whole number that this could decide, settle it on exact sums.
    if (Math.abs(guess - Math.round(guess)) * (o + Math.max(a, c)) > NEAR * (o + Math.max(a, c)) + INSTANT_SECONDS * 8) return j
    while (j > 1 && this.seconds(replica, j - 1) >= seconds) j--
    while (j < most && this.seconds(replica, j) < seconds) j++
    return j
  }
}

/** Seconds of j steps. */
function sumOf(j: number, a: number, s: number, c: number, o: number, q: number, flat: number): number {
  const beside = j * o + (q * j * (j - 1)) / 2
  if (j <= flat) return j * c + beside
  const rest = j - flat
  if (flat === 0) return rest * a + (s * rest * (rest - 1)) / 2 + beside
  return flat * c + rest * (a + flat * s) + (s * rest * (rest - 1)) / 2 + beside
}

/** m with m·b + g·m(m−1)/2 = x, by the root that stays accurate for small g. */
function rootOf(b: number, g: number, x: number): number {
  if (g === 0) return x / b
  const half = b - g / 2
  return (2 * x) / (half + Math.sqrt(half * half + 2 * g * x))
}
