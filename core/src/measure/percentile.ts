import { kthSmallest } from './select.ts'

/**
 * The smallest value with at least `share` of all values at or below it (no interpolation).
 *
 * @param sorted ascending; Infinity is allowed and stands for "never"
 * @param share in (0, 1]
 * @returns undefined when there are no values
 * @example percentile(Float64Array.of(1, 2, 3, 4), 0.5) // 2
 */
export function percentile(sorted: Float64Array, share: number): number | undefined {
  if (sorted.length === 0) return undefined
  return sorted[rank(sorted.length, share) - 1]
}

/** The same of values in no order; they change their places. */
export function percentileOf(values: Float64Array, share: number): number | undefined {
  return values.length === 0 ? undefined : kthSmallest(values, values.length, rank(values.length, share) - 1)
}

/** How many of n values must be at or below the percentile: ⌈share·n⌉, at least 1, products' rounding forgiven. */
export function rank(n: number, share: number): number {
  return Math.min(n, Math.max(1, Math.ceil(share * n - 1e-9)))
}

/** Arithmetic mean; undefined when there are no values. */
export function mean(values: Float64Array): number | undefined {
  if (values.length === 0) return undefined
  let sum = 0
  for (let i = 0; i < values.length; i++) sum += values[i]
  return sum / values.length
}
