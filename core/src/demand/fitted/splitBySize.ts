import { exp, ln } from '../../arithmetic/sameBits.ts'

const BINS = 60
/** Two kinds of requests lie so many of their spreads apart, or they are one. */
const APART = 3
/** Between them there is at most this share of what the lower of both has at its height. */
const VALLEY = 0.5
const LEAST_SHARE = 0.05
const LEAST_COUNT = 200

/**
 * The size that parts short requests from long ones, where a log has both: the one with the least spread within the two, if they lie
 * clearly apart and hardly anything lies between.
 *
 * @returns undefined where they are of one kind
 */
export function splitSize(sizes: Int32Array): number | undefined {
  if (sizes.length < LEAST_COUNT) return undefined
  const logs = Float64Array.from(sizes, (s) => ln(s))
  const low = logs.reduce((a, b) => Math.min(a, b), Infinity)
  const high = logs.reduce((a, b) => Math.max(a, b), -Infinity)
  if (high - low < 1e-9) return undefined
  const width = (high - low) / BINS
  const bins = new Float64Array(BINS)
  for (const x of logs) bins[Math.min(BINS - 1, Math.floor((x - low) / width))]++
  const cut = bestCut(bins)
  const [below, above] = [moments(bins, 0, cut), moments(bins, cut, BINS)]
  const spread = Math.sqrt((below.variance + above.variance) / 2)
  const isApart =
    Math.min(below.count, above.count) >= LEAST_SHARE * sizes.length && above.mean - below.mean > APART * Math.max(spread, 0.5)
  if (!isApart) return undefined
  const smooth = bins.map((_, i) => (bins[Math.max(0, i - 1)] + bins[i] + bins[Math.min(BINS - 1, i + 1)]) / 3)
  const from = Math.round(below.mean)
  const between = smooth.subarray(from, Math.round(above.mean) + 1)
  const valley = between.indexOf(between.reduce((a, b) => Math.min(a, b), Infinity)) + from
  const lower = Math.min(
    ...[smooth.subarray(0, valley), smooth.subarray(valley + 1)].map((side) => side.reduce((a, b) => Math.max(a, b), 0)),
  )
  return smooth[valley] <= VALLEY * lower ? Math.round(exp(low + (valley + 0.5) * width)) : undefined
}

interface Moments {
  count: number
  mean: number
  variance: number
}

function moments(bins: Float64Array, from: number, until: number): Moments {
  let [count, sum, squares] = [0, 0, 0]
  for (let i = from; i < until; i++) {
    count += bins[i]
    sum += bins[i] * i
    squares += bins[i] * i * i
  }
  const mean = count > 0 ? sum / count : 0
  return { count, mean, variance: count > 0 ? Math.max(0, squares / count - mean * mean) : 0 }
}

/** Between which bins the spread within both sides is least. */
function bestCut(bins: Float64Array): number {
  let best = { cut: 1, within: Infinity }
  for (let cut = 1; cut < BINS; cut++) {
    const [a, b] = [moments(bins, 0, cut), moments(bins, cut, BINS)]
    const within = a.count * a.variance + b.count * b.variance
    if (within < best.within) best = { cut, within }
  }
  return best.cut
}
