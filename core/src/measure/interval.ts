/** Two-sided 95 % points of Student's t for 1…30 degrees of freedom; tabulated to three decimals everywhere. */
const T95 = [
  12.706, 4.303, 3.182, 2.776, 2.571, 2.447, 2.365, 2.306, 2.262, 2.228, 2.201, 2.179, 2.16, 2.145, 2.131, 2.12, 2.11, 2.101, 2.093,
  2.086, 2.08, 2.074, 2.069, 2.064, 2.06, 2.056, 2.052, 2.048, 2.045, 2.042,
]

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
  const variance = values.reduce((sum, v) => sum + (v - mean) ** 2, 0) / (runs - 1)
  const half = (T95[Math.min(runs - 1, T95.length) - 1] * Math.sqrt(variance)) / Math.sqrt(runs)
  return { mean, low: mean - half, high: mean + half, runs }
}
