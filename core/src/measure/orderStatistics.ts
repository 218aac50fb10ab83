import { exp, ln } from '../arithmetic/sameBits.ts'
import { rank } from './percentile.ts'

/** A percentile of values that were measured, and where the true one lies with 95 of 100, whatever they are distributed like. */
export interface MeasuredPercentile {
  value: number
  /** undefined where there are too few below, or above, for that to be said */
  low?: number
  high?: number
}

const EACH_SIDE = 0.025

/**
 * A percentile with the interval that order statistics give (David and Nagaraja, Order Statistics, 3rd ed., section 7.1): of n independent
 * values B are at or below the true one, B binomial; its ends are the values whose ranks B passes with 2.5 of 100 on either side.
 *
 * @param sorted ascending
 * @param share in (0, 1)
 * @returns undefined when there are no values
 * @example percentileInterval([1, 2, 3, 4, 5, 6], 0.5) // { value: 3, low: 1, high: 6 }
 */
export function percentileInterval(sorted: ArrayLike<number>, share: number): MeasuredPercentile | undefined {
  const n = sorted.length
  if (n === 0) return undefined
  const [low, high] = ranks(n, share)
  return { value: sorted[rank(n, share) - 1], ...(low >= 1 && { low: sorted[low - 1] }), ...(high <= n && { high: sorted[high - 1] }) }
}

/** How many values a percentile wants for its interval to have both ends: share^n and (1 − share)^n are at most 2.5 of 100. */
export const valuesNeeded = (share: number): number => Math.ceil(ln(EACH_SIDE) / ln(Math.max(share, 1 - share)) - 1e-9)

/** The largest rank with P(B < it) ≤ 2.5 of 100, 0 if none; the smallest with P(B ≥ it) ≤ 2.5 of 100, n + 1 if none. */
function ranks(n: number, share: number): [low: number, high: number] {
  const chance = binomial(n, share)
  let [low, below] = [0, 0]
  while (low < n && below + chance[low] <= EACH_SIDE) below += chance[low++]
  let [high, above] = [n + 1, 0]
  while (high > 0 && above + chance[high - 1] <= EACH_SIDE) above += chance[--high]
  // P(B ≥ n + 1) is 0: the last rank that is still told is one above where the sum stops.
  return [low, high]
}

/** P(B = k) for k from 0 to n, each from its neighbour, so that nothing overflows. */
function binomial(n: number, share: number): Float64Array {
  const chance = new Float64Array(n + 1)
  const middle = Math.min(n, Math.floor((n + 1) * share))
  const odds = ln(share) - ln(1 - share)
  let log = 0
  chance[middle] = 1
  for (let k = middle; k < n; k++) chance[k + 1] = exp((log += odds + ln((n - k) / (k + 1))))
  log = 0
  for (let k = middle; k > 0; k--) chance[k - 1] = exp((log -= odds + ln((n - k + 1) / k)))
  const sum = chance.reduce((a, b) => a + b, 0)
  return chance.map((c) => c / sum)
}
