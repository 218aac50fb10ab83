import { exp } from '../../arithmetic/sameBits.ts'
import { HOUR_SECONDS } from '../rateKinds.ts'

const MONTH_SECONDS = 730 * HOUR_SECONDS
const ROUNDS = 40
const Z95 = 1.96

/** Growth a month of 730 hours, with the 95 % interval that the counts leave. */
export interface GrowthFit {
  perMonth: number
  low: number
  high: number
}

/**
 * The most likely exponential growth of counts beyond a shape that is known, by Newton's method; its interval allows for counts that
 * differ more than by chance.
 *
 * @param counts of pieces of time; @param shape what each would have without growth, up to a factor; @param middles of the pieces, seconds
 * @returns undefined for fewer than three pieces, or where nothing arrived
 */
export function fitGrowth(counts: readonly number[], shape: readonly number[], middles: readonly number[]): GrowthFit | undefined {
  const total = counts.reduce((a, b) => a + b, 0)
  if (counts.length < 3 || total === 0) return undefined
  const centre = middles.reduce((a, b) => a + b, 0) / middles.length
  const t = middles.map((m) => (m - centre) / MONTH_SECONDS)
  let g = 0
  let moments = momentsAt(g, shape, t)
  for (let round = 0; round < ROUNDS; round++) {
    const score = counts.reduce((sum, n, i) => sum + n * (t[i] - moments.mean), 0)
    const step = score / (total * moments.variance)
    g += Math.max(-1, Math.min(1, step))
    moments = momentsAt(g, shape, t)
    if (Math.abs(step) < 1e-9) break
  }
  const expected = shape.map((m, i) => (total * m * exp(g * t[i])) / moments.sum)
  const spread = counts.reduce((sum, n, i) => sum + (expected[i] > 0 ? ((n - expected[i]) * (n - expected[i])) / expected[i] : 0), 0)
  const dispersion = Math.max(1, spread / (counts.length - 2))
  const error = Math.sqrt(dispersion / (total * moments.variance))
  return { perMonth: exp(g) - 1, low: exp(g - Z95 * error) - 1, high: exp(g + Z95 * error) - 1 }
}

/** Mean and variance of time where arrivals come by the shape, grown. */
function momentsAt(g: number, shape: readonly number[], t: readonly number[]): { sum: number; mean: number; variance: number } {
  const weights = shape.map((m, i) => m * exp(g * t[i]))
  const sum = weights.reduce((a, b) => a + b, 0)
  const mean = weights.reduce((s, w, i) => s + w * t[i], 0) / sum
  return { sum, mean, variance: weights.reduce((s, w, i) => s + w * (t[i] - mean) * (t[i] - mean), 0) / sum }
}
