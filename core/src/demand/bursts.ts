import { exp, ln, square } from '../arithmetic/sameBits.ts'
import type { Bursts } from '../plan/schema.ts'
import { normalQuantile } from '../random/normalQuantile.ts'
import type { RandomStream } from '../random/stream.ts'
import type { RateCurve } from './rate.ts'

/** Draws gaps of mean 1, to be spent against the area under a rate curve. */
export type Gap = () => number

/** Exponential gaps, or gamma ones of the given coefficient of variation. */
export function gapsOf(bursts: Bursts | undefined, random: RandomStream): Gap {
  if (bursts?.kind !== 'gamma' || bursts.variation === 1) return () => -ln(random.open())
  const shape = 1 / square(bursts.variation)
  return () => gamma(shape, random) / shape
}

/**
 * A gamma variate of scale 1, so of mean and variance `shape` (Marsaglia and Tsang, 2000, ACM Transactions on Mathematical
 * Software 26, 363–372); below shape 1 by the power of a uniform that they give.
 *
 * @param shape 0 (which gives 0) or more, finite; NaN never returns
 * @returns 0 or more: at shape 0.001 every second draw is too small for a number and is 0
 * @example gamma(4, new RandomStream(1, 'gaps')) // some 4, with a standard deviation of 2
 */
export function gamma(shape: number, random: RandomStream): number {
  if (shape < 1) return gamma(shape + 1, random) * exp(ln(random.open()) / shape)
  const d = shape - 1 / 3
  const c = 1 / Math.sqrt(9 * d)
  for (;;) {
    const x = normalQuantile(random.open())
    const t = 1 + c * x
    const v = t * t * t
    if (v > 0 && ln(random.open()) < (x * x) / 2 + d - d * v + d * ln(v)) return d * v
  }
}

/**
 * The curve as one draw of a two-state process makes it: bursts and quiet times of exponential length, beginning in
 * either with its long-run share. The rate between bursts is so much lower that the mean is that of the curve.
 */
export function modulated(curve: RateCurve, bursts: Bursts | undefined, random: RandomStream): RateCurve {
  if (bursts?.kind !== 'two-state') return curve
  const { factor, burstSeconds, quietSeconds } = bursts
  const share = burstSeconds / (burstSeconds + quietSeconds)
  const quiet = (1 - factor * share) / (1 - share)
  const from: number[] = []
  const rates: number[] = []
  let piece = 0
  let bursting = random.next() < share
  for (let t = 0; t < curve.endSeconds;) {
    const until = t - (bursting ? burstSeconds : quietSeconds) * ln(random.open())
    while (t < Math.min(until, curve.endSeconds)) {
      from.push(t)
      rates.push(curve.rates[piece] * (bursting ? factor : quiet))
      const end = curve.from[piece + 1] ?? curve.endSeconds
      if (end <= until) piece++
      t = Math.min(end, until)
    }
    bursting = !bursting
  }
  return { from: Float64Array.from(from), rates: Float64Array.from(rates), endSeconds: curve.endSeconds }
}
