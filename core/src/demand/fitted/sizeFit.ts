import { ln } from '../../arithmetic/sameBits.ts'
import type { Size } from '../../plan/schema.ts'
import { normalCdf } from '../../random/normalCdf.ts'
import { normalQuantile } from '../../random/normalQuantile.ts'
import { lognormalSigma } from '../sizes.ts'

/** A distribution that is farther than this from the sizes of a log, anywhere, is not taken for theirs. */
const FARTHEST = 0.05
/** So many of their quantiles stand for them then. */
const QUANTILES = 200
/** Of more sizes than these every so many is looked at. */
const MOST_LOOKED_AT = 50_000

/** What stands for the sizes of a log, and how far it is from them. */
export interface SizeFit {
  size: Exclude<Size, { kind: 'log' }>
  /** the largest difference between the shares below any size (Kolmogorov–Smirnov); 0 to 1 */
  distance: number
}

/** @param sizes whole numbers of at least 1, not none */
export function fitSizes(sizes: Int32Array): SizeFit {
  const sorted = sizes.slice().sort()
  const at = (share: number) => sorted[Math.max(0, Math.ceil(share * sorted.length) - 1)]
  const [median, p95, max] = [at(0.5), at(0.95), sorted[sorted.length - 1]]
  if (sorted[0] === max) return { size: { kind: 'fixed', value: max }, distance: 0 }
  const lognormal = { kind: 'lognormal', median, p95, max } as const
  const distance = p95 > median ? distanceTo(sorted, lognormal) : 1
  if (distance <= FARTHEST) return { size: lognormal, distance }
  const count = Math.min(QUANTILES, sorted.length)
  const values = Array.from({ length: count }, (_, i) => sorted[Math.floor(((i + 0.5) / count) * sorted.length)])
  return { size: { kind: 'empirical', values }, distance: 1 / (2 * count) }
}

/** At every size that is there: sizes of the distribution are rounded to whole ones. */
function distanceTo(sorted: Int32Array, { median, p95, max }: { median: number; p95: number; max: number }): number {
  const sigma = lognormalSigma({ median, p95 })
  const below = (size: number) => (size >= max ? 1 : normalCdf(ln((size + 0.5) / median) / sigma))
  let farthest = 0
  for (let i = 0; i < sorted.length; i++) {
    if (i + 1 < sorted.length && sorted[i + 1] === sorted[i]) continue
    farthest = Math.max(farthest, Math.abs((i + 1) / sorted.length - below(sorted[i])))
  }
  return farthest
}

/**
 * How sizes go together: the correlation of their normal scores, which a plan states as `lengthCorrelation`.
 *
 * @returns 0 where one of them is always the same
 */
export function correlationOf(first: Int32Array, second: Int32Array): number {
  const step = Math.max(1, Math.ceil(first.length / MOST_LOOKED_AT))
  const places = Int32Array.from({ length: Math.floor(first.length / step) }, (_, i) => i * step)
  const [a, b] = [scores(first, places), scores(second, places)]
  const sum = (of: (i: number) => number) => a.reduce((s, _, i) => s + of(i), 0)
  const under = Math.sqrt(sum((i) => a[i] * a[i]) * sum((i) => b[i] * b[i]))
  return under > 0 ? sum((i) => a[i] * b[i]) / under : 0
}

/** Normal scores of ranks; equal sizes share the one of their middle. */
function scores(sizes: Int32Array, places: Int32Array): Float64Array {
  const n = places.length
  const order = Int32Array.from({ length: n }, (_, i) => i).sort((x, y) => sizes[places[x]] - sizes[places[y]])
  const out = new Float64Array(n)
  for (let i = 0; i < n;) {
    let end = i
    while (end < n && sizes[places[order[end]]] === sizes[places[order[i]]]) end++
    const score = normalQuantile((i + end) / 2 / n)
    for (; i < end; i++) out[order[i]] = score
  }
  return out
}
