import { decimalExponent } from '../arithmetic/sameBits.ts'

/**
 * A number with three significant digits (more before the point if it has more), thousands separated by a narrow no-break space.
 *
 * @returns "no data" for NaN and undefined, "∞" for Infinity
 * @example threeDigits(12345.6) // '12 346'; threeDigits(0.01234) // '0.0123'
 */
export function threeDigits(value: number | undefined | null): string {
  if (value === undefined || value === null || Number.isNaN(value)) return 'no data'
  if (!Number.isFinite(value)) return value > 0 ? '∞' : '−∞'
  const size = Math.abs(value)
  // What is left of a difference of equal figures is none.
  if (size < 1e-12) return '0'
  const decimals = Math.min(12, Math.max(0, 2 - decimalExponent(size)))
  return grouped(value, decimals)
}

/** A number with exactly so many decimals, thousands separated by a narrow no-break space, minus as a minus sign. */
export function grouped(value: number, decimals: number): string {
  const [whole, fraction] = Math.abs(value).toFixed(decimals).split('.')
  const spaced = whole.replace(/\B(?=(\d{3})+$)/g, '\u202f')
  const isZero = Number(whole) === 0 && (fraction === undefined || Number(fraction) === 0)
  return `${value < 0 && !isZero ? '−' : ''}${spaced}${fraction ? `.${fraction}` : ''}`
}

/** A share as a percentage with three significant digits. @example percent(0.0512) // '5.12 %' */
export function percent(share: number | undefined | null): string {
  return share === undefined || share === null ? 'no data' : `${threeDigits(share * 100)}\u00a0%`
}

/** Off by less than this nobody has to know how much. */
export const LEAST_OFF = 0.001

/** How far something is off, as a percentage after a sign. @example offPercent(1e-7) // 'less than 0.1 %' */
export const offPercent = (share: number, sign = ''): string =>
  Math.abs(share) < LEAST_OFF ? `less than ${bare(percent(LEAST_OFF))}` : `${sign}${percent(Math.abs(share))}`

/** The same figure without zeros at the end of its decimals, for prose. @example bare('95.0 s') // '95 s' */
export function bare(figure: string): string {
  return figure.replace(/(\.\d*?)0+(?!\d)/g, '$1').replace(/\.(?!\d)/g, '')
}
