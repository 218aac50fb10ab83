import { threeDigits } from './number.ts'

const STEPS = ['B', 'kB', 'MB', 'GB', 'TB', 'PB']

/** Bytes in decimal units, three significant digits. @example bytes(28e9) // '28.0 GB' */
export function bytes(count: number): string {
  const size = Math.abs(count)
  const step = size < 1 ? 0 : Math.min(STEPS.length - 1, Math.floor(Math.log10(size) / 3))
  return `${threeDigits(count / 1000 ** step)}\u00a0${STEPS[step]}`
}
