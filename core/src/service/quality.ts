import { square } from '../arithmetic/sameBits.ts'
import type { Variant } from '../plan/schema.ts'

/** A share found in a sample, with its 95 % interval. */
export interface ShareInterval {
  share: number
  low: number
  high: number
  samples: number
}

/** Two-sided 95 % point of the normal distribution. */
export const Z95 = 1.959963984540054

/**
 * Wilson's score interval of a proportion, 95 % (E. B. Wilson, 1927): holds for small samples and shares near 0 or 1.
 *
 * @param samples at least 1
 * @example wilson(0.8, 100) // low 0.711, high 0.867
 */
export function wilson(share: number, samples: number): ShareInterval {
  const z2 = square(Z95) / samples
  const centre = (share + z2 / 2) / (1 + z2)
  const half = (Z95 * Math.sqrt((share * (1 - share)) / samples + z2 / (4 * samples))) / (1 + z2)
  return { share, samples, low: Math.max(0, centre - half), high: Math.min(1, centre + half) }
}

/** Samples from which on a share lies above a floor with its whole interval; Infinity when it never does. */
export function samplesToClear(share: number, floor: number): number {
  if (share <= floor) return Infinity
  // Wilson's lower end reaches the floor where |share − floor| = z·√(floor·(1 − floor)/n).
  return Math.ceil((square(Z95) * floor * (1 - floor)) / square(share - floor))
}

export type Comparison = 'better' | 'worse' | 'undecided' | 'unknown'

export interface QualityDifference {
  /** of the first against the second */
  verdict: Comparison
  difference: number
  low: number
  high: number
}

/** The difference of two variants' scores with its 95 % interval (Newcombe, 1998: from both Wilson intervals), independent samples. */
export function compareQuality(a: Variant, b: Variant): QualityDifference {
  if (!a.quality || !b.quality) return { verdict: 'unknown', difference: NaN, low: NaN, high: NaN }
  const one = wilson(a.quality.score, a.quality.samples)
  const other = wilson(b.quality.score, b.quality.samples)
  const difference = one.share - other.share
  const low = difference - Math.sqrt(square(one.share - one.low) + square(other.high - other.share))
  const high = difference + Math.sqrt(square(one.high - one.share) + square(other.share - other.low))
  return { verdict: low > 0 ? 'better' : high < 0 ? 'worse' : 'undecided', difference, low, high }
}
