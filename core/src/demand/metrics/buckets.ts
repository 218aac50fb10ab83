import { numberOf } from '../../files/metrics/rangeQuery.ts'
import { steps, total } from './increases.ts'
import type { Series } from '../../files/metrics/series.ts'

/** How many observations a histogram counted up to each bound. */
export interface Bucket {
  /** largest value in it, Infinity for the last */
  upTo: number
  /** observations in it and in all below */
  below: number
}

/** The buckets of a histogram over the time of its series, those of several label sets together. */
export function bucketsOf(series: readonly Series[]): Bucket[] {
  const byBound = new Map<number, number>()
  for (const s of series) {
    const bound = numberOf(s.labels.le ?? 'NaN')
    if (!Number.isNaN(bound)) byBound.set(bound, (byBound.get(bound) ?? 0) + total(steps(s)))
  }
  let most = 0
  return [...byBound].sort(([a], [b]) => a - b).map(([upTo, below]) => ({ upTo, below: (most = Math.max(most, below)) }))
}

/**
 * A quantile of a histogram: evenly spread within its bucket, by the logarithm where both bounds are above 0, since sizes and times spread
 * so. NaN for an empty one; the largest bound that is finite where it is beyond that.
 */
export function bucketQuantile(buckets: readonly Bucket[], share: number, ratio: (a: number, b: number, t: number) => number): number {
  const all = buckets.at(-1)?.below ?? 0
  if (all === 0) return NaN
  const wanted = share * all
  const i = buckets.findIndex((b) => b.below >= wanted)
  const { upTo, below } = buckets[i]
  const under = i === 0 ? { upTo: 0, below: 0 } : buckets[i - 1]
  if (upTo === Infinity) return under.upTo
  return ratio(under.upTo, upTo, (wanted - under.below) / (below - under.below))
}
