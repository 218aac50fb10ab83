import { isoSeconds } from './arrivalTime.ts'
import type { Cell } from './tables/table.ts'

/** In what a time or a duration is counted; `calendar` are texts such as 2027-03-01T09:00:00Z. */
export const TIME_UNITS = {
  seconds: { words: 'seconds', perSecond: 1 },
  milliseconds: { words: 'milliseconds', perSecond: 1e3 },
  microseconds: { words: 'microseconds', perSecond: 1e6 },
  nanoseconds: { words: 'nanoseconds', perSecond: 1e9 },
  calendar: { words: 'date and time', perSecond: NaN },
} as const
export type TimeUnit = keyof typeof TIME_UNITS

/** Sizes and counts are held in 32 bits. */
const LARGEST_SIZE = 2_000_000_000
/** From so many seconds on a number counts from 1970: it is September 2001. */
export const CALENDAR_FROM_SECONDS = 1e9

const WENT_WRONG = /err|fail|time.?out|timed.?out|cancel|abort|refus|reject|exception|false/i

/** @returns seconds, NaN for what is no time of the unit */
export function secondsOf(cell: Cell, unit: TimeUnit): number {
  if (cell instanceof Date) return cell.getTime() / 1000
  if (unit === 'calendar') return typeof cell === 'string' ? isoSeconds(cell.trim()) : NaN
  return numberOf(cell) / TIME_UNITS[unit].perSecond
}

/** The number that a cell holds; NaN for an empty one or anything else. */
export function numberOf(cell: Cell): number {
  if (typeof cell === 'number') return cell
  if (typeof cell === 'bigint') return Number(cell)
  if (typeof cell !== 'string') return NaN
  const text = cell.trim()
  return text === '' ? NaN : Number(text)
}

/** Tokens or units of a cell: a whole number of at least 1, else −1. */
export function sizeOf(cell: Cell): number {
  const value = numberOf(cell)
  return Number.isInteger(value) && value >= 1 && value <= LARGEST_SIZE ? value : -1
}

/** Whether a status says that a request went wrong: a code of 400 or more, or a word for it; an empty one does not. */
export function wentWrong(cell: Cell): boolean {
  if (typeof cell === 'boolean') return !cell
  const code = numberOf(cell)
  return Number.isNaN(code) ? typeof cell === 'string' && WENT_WRONG.test(cell) : code >= 400 || code < 0
}

export const textOfCell = (cell: Cell): string =>
  cell === null || cell === undefined ? '' : cell instanceof Date ? cell.toISOString() : String(cell).trim()

/** In what the numbers or texts of a column count time, by how large they are. */
export function timeUnitOf(cells: readonly Cell[], header: string): TimeUnit {
  const first = cells.find((c) => textOfCell(c) !== '')
  if (cells.some((c) => c instanceof Date || (typeof c === 'string' && !Number.isNaN(isoSeconds(c.trim()))))) return 'calendar'
  const number = numberOf(first)
  const units = (['seconds', 'milliseconds', 'microseconds', 'nanoseconds'] as const).filter((unit) => {
    const seconds = number / TIME_UNITS[unit].perSecond
    return seconds >= CALENDAR_FROM_SECONDS && seconds < 10 * CALENDAR_FROM_SECONDS
  })
  return units[0] ?? unitByName(header) ?? 'seconds'
}

/** @example unitByName('latencyMs') // 'milliseconds' */
export function unitByName(header: string): TimeUnit | undefined {
  // A capital within begins another word.
  const name = header.replace(/([a-z0-9])([A-Z])/g, '$1_$2').toLowerCase()
  if (/ms\W*$/.test(name)) return 'milliseconds'
  if (/(^|[^a-z])(ms|msec|millis|milliseconds)([^a-z]|$)|millis/.test(name)) return 'milliseconds'
  if (/(^|[^a-z])(us|µs|usec|micros|microseconds)([^a-z]|$)|micros/.test(name)) return 'microseconds'
  if (/(^|[^a-z])(ns|nsec|nanos|nanoseconds)([^a-z]|$)|nanos/.test(name)) return 'nanoseconds'
  return /(^|[^a-z])(s|sec|secs|seconds)([^a-z]|$)/.test(name) ? 'seconds' : undefined
}
