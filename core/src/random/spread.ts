import { ln } from '../arithmetic/sameBits.ts'

/** The 95th percentile of a lognormal quantity is its median times e to this many σ. */
const Z95_ONE_SIDED = 1.6448536269514722

/** σ of the logarithm of a quantity by its median and its 95th percentile; 0 where that is left out or no larger: a fixed quantity. */
export function spreadOf(median: number, p95: number | undefined): number {
  return p95 !== undefined && p95 > median && median > 0 ? ln(p95 / median) / Z95_ONE_SIDED : 0
}
