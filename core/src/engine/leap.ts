/*
 * Between two changes of composition all decode steps have the same n, and k grows by n each step. Step i (from 0)
 * then costs max(a + i·s, c) + o with a = M[n] + m1·k, s = m1·n, c = C[n], o = O[n]: flat until a + i·s reaches c,
 * then an arithmetic series.
 */

/** Number of first steps that cost c + o because a + i·s is still below c. */
function flatSteps(a: number, s: number, c: number): number {
  if (a >= c) return 0
  return s > 0 ? Math.ceil((c - a) / s) : Infinity
}

/**
 * Seconds of the first j decode steps of a leap.
 *
 * @param a seconds to read weights and cache in the first step
 * @param s seconds by which that grows each step, ≥ 0
 * @param c seconds of arithmetic, the same for each step
 * @param o seconds of overhead, the same for each step
 * @param j number of steps, ≥ 0
 * @example leapSeconds(0.01, 0, 0.002, 0.001, 10) // 0.11
 */
export function leapSeconds(a: number, s: number, c: number, o: number, j: number): number {
  const flat = Math.min(j, flatSteps(a, s, c))
  const rest = j - flat
  const growing = rest === 0 ? 0 : rest * (a + flat * s + o) + (s * rest * (rest - 1)) / 2
  return flat * (c + o) + growing
}

/**
 * The smallest number of steps, at least 1, after which `seconds` have passed: the inverse of {@link leapSeconds}.
 *
 * @param most an upper bound that is known to suffice; the result is at most this
 */
export function leapStepsUntil(a: number, s: number, c: number, o: number, seconds: number, most: number): number {
  const flat = Math.min(most, flatSteps(a, s, c))
  const flatEnds = flat * (c + o)
  let j = seconds <= flatEnds ? Math.ceil(seconds / (c + o)) : flat + growingSteps(a + flat * s + o, s, seconds - flatEnds)
  j = Math.min(most, Math.max(1, j))
  while (j > 1 && leapSeconds(a, s, c, o, j - 1) >= seconds) j-- // the root is rounded: settle it on exact steps
  while (j < most && leapSeconds(a, s, c, o, j) < seconds) j++
  return j
}

/** Smallest m with m·b + s·m(m−1)/2 ≥ x, up to rounding, by the root that stays accurate for small s. */
function growingSteps(b: number, s: number, x: number): number {
  const half = b - s / 2
  const root = half + Math.sqrt(half * half + 2 * s * x)
  return Math.ceil((2 * x) / root)
}
