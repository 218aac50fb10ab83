import { INSTANT_SECONDS } from './rules.ts'

/*
 * Between two changes of composition all steps have the same n, and k grows by the same amount each step. Step i (from 0)
 * then costs max(a + i·s, c) + o + i·q: flat until a + i·s reaches c, then growing, and beside it o + i·q (q > 0 where a
 * long prompt is taken in chunks and each has more before it). The sum of j steps is two arithmetic series.
 */

/** Number of first steps whose maximum is c because a + i·s is still below it. */
function flatSteps(a: number, s: number, c: number): number {
  if (a >= c) return 0
  return s > 0 ? Math.ceil((c - a) / s) : Infinity
}

/** The leap that each replica is in: its coefficients, and sums over its steps in closed form. */
export class Leaps {
  /** when it began, seconds */
  readonly start: Float64Array
  /** steps after which it ends, unless it is cut */
  readonly planned: Float64Array
  private readonly a: Float64Array
  private readonly s: Float64Array
  private readonly c: Float64Array
  private readonly o: Float64Array
  private readonly q: Float64Array
  private readonly flat: Float64Array

  constructor(replicas: number) {
    const [start, planned, a, s, c, o, q, flat] = Array.from({ length: 8 }, () => new Float64Array(replicas))
    this.start = start
    this.planned = planned
    this.a = a
    this.s = s
    this.c = c
    this.o = o
    this.q = q
    this.flat = flat
  }

  /**
   * Begins a leap of a replica.
   *
   * @param a seconds to read weights and cache in the first step
   * @param s seconds by which that grows each step, ≥ 0
   * @param c seconds of arithmetic, the same for each step
   * @param o seconds beside both in the first step
   * @param q seconds by which o grows each step, ≥ 0
   */
  begin(replica: number, now: number, a: number, s: number, c: number, o: number, q: number): void {
    this.start[replica] = now
    this.a[replica] = a
    this.s[replica] = s
    this.c[replica] = c
    this.o[replica] = o
    this.q[replica] = q
    this.flat[replica] = flatSteps(a, s, c)
  }

  /** Seconds of the first j steps, j ≥ 0. */
  seconds(replica: number, j: number): number {
    const flat = this.flat[replica]
    const c = this.c[replica]
    const beside = j * this.o[replica] + (this.q[replica] * j * (j - 1)) / 2
    if (j <= flat) return j * c + beside
    const rest = j - flat
    const s = this.s[replica]
    const reached = flat === 0 ? this.a[replica] : this.a[replica] + flat * s
    return (flat === 0 ? 0 : flat * c) + rest * reached + (s * rest * (rest - 1)) / 2 + beside
  }

  /**
   * The smallest number of steps, 1…planned, after which `seconds` have passed: the inverse of {@link seconds}.
   * When even all planned ones take less, it is all of them.
   */
  stepsUntil(replica: number, seconds: number): number {
    const most = this.planned[replica]
    const guess = this.guess(replica, seconds, most)
    let j = Math.ceil(guess)
    if (!(j < most)) j = most
    if (!(j > 1)) j = 1
    // The root is rounded: where it is so near a whole number that this could decide, settle it on exact sums.
    const step = this.o[replica] + Math.max(this.a[replica], this.c[replica])
    if (Math.abs(guess - Math.round(guess)) > NEAR + (INSTANT_SECONDS * 8) / step) return j
    while (j > 1 && this.seconds(replica, j - 1) >= seconds) j--
    while (j < most && this.seconds(replica, j) < seconds) j++
    return j
  }

  /** The real number of steps after which `seconds` have passed, up to rounding. */
  private guess(replica: number, seconds: number, most: number): number {
    const flat = this.flat[replica]
    const a = this.a[replica]
    const s = this.s[replica]
    const c = this.c[replica]
    const o = this.o[replica]
    const q = this.q[replica]
    if (flat === 0) return rootOf(a + o, s + q, seconds)
    if (flat >= most || seconds <= this.seconds(replica, flat)) return rootOf(c + o, q, seconds)
    return flat + rootOf(a + flat * s + o + flat * q, s + q, seconds - this.seconds(replica, flat))
  }
}

const NEAR = 1e-6

/** m with m·b + g·m(m−1)/2 = x, by the root that stays accurate for small g. */
function rootOf(b: number, g: number, x: number): number {
  if (g === 0) return x / b
  const half = b - g / 2
  return (2 * x) / (half + Math.sqrt(half * half + 2 * g * x))
}
