import { decimalExponent } from '../arithmetic/sameBits.ts'
import { threeDigits } from './number.ts'

const STEPS = ['B', 'kB', 'MB', 'GB', 'TB', 'PB']
const SIZES = [1, 1e3, 1e6, 1e9, 1e12, 1e15]

/** Bytes in decimal units, three significant digits. @example bytes(28e9) // '28.0 GB' */
export function bytes(count: number): string {
  const size = Math.abs(count)
  const step = size < 1 ? 0 : Math.min(STEPS.length - 1, Math.floor(decimalExponent(size) / 3))
  return `${threeDigits(count / SIZES[step])}\u00a0${STEPS[step]}`
}
