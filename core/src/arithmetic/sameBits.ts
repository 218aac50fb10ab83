/*
 * Functions of which every JavaScript engine gives the same bits. The language promises them for + − × ÷ and the square
 * root alone; logarithm, exponential and power are the engine's own, and differ in the last bit from one to the next.
 * These are computed from additions and multiplications (after FreeBSD's msun), with an error below one unit in the last
 * place. `npm run bits` holds them to digests of ten million arguments in several engines.
 */
export { default as exp } from '@stdlib/math-base-special-exp'
export { default as ln } from '@stdlib/math-base-special-ln'

/** x², rounded once: the power operator need not be. */
export function square(x: number): number {
  return x * x
}

/**
 * The whole part of the decimal logarithm of |x|, exactly: −3 for 0.001, 2 for 999.999.
 *
 * @param x finite and not 0; 0 gives 0
 */
export function decimalExponent(x: number): number {
  // As many digits as tell every float64 from its neighbours: nothing is rounded up to the next power.
  const text = x.toExponential(17)
  return Number(text.slice(text.indexOf('e') + 1))
}
