import { square } from '../arithmetic/sameBits.ts'
import { student95 } from '../random/studentT.ts'

/** A 95 % confidence interval for a mean, from independent runs. */
export interface Interval {
  mean: number
  low: number
  high: number
  runs: number
}

/**
 * Student's t interval for the mean of independent, roughly normal values.
 *
 * @returns undefined for no values; low = high = the value for one, which is no interval: `runs` says so
 * @example interval95([1, 2, 3]).high // 4.484…
 */
export function interval95(values: readonly number[]): Interval | undefined {
  const runs = values.length
  if (runs === 0) return undefined
  const mean = values.reduce((a, b) => a + b, 0) / runs
  if (runs === 1 || !Number.isFinite(mean)) return { mean, low: mean, high: mean, runs }
  const variance = values.reduce((sum, v) => sum + square(v - mean), 0) / (runs - 1)
  const half = (student95(runs - 1) * Math.sqrt(variance)) / Math.sqrt(runs)
  return { mean, low: mean - half, high: mean + half, runs }
}
