import { offsetSeconds } from './clockTime.ts'
import { threeDigits } from './number.ts'

const MINUTE = 60
const HOUR = 3600
const DAY = 86_400

/**
 * A duration as people say it, three significant digits below two minutes.
 *
 * @example duration(0.0123) // '12.3 ms'; duration(95) // '95.0 s'; duration(4000) // '1 h 7 min'
 */
export function duration(seconds: number | undefined | null): string {
  if (seconds === undefined || seconds === null || Number.isNaN(seconds)) return 'no data'
  if (seconds === Infinity) return 'never'
  if (seconds < 0) return `−${duration(-seconds)}`
  if (seconds === 0) return '0 s'
  if (seconds < 1e-3) return `${threeDigits(seconds * 1e6)}\u00a0µs`
  if (seconds < 1) return `${threeDigits(seconds * 1000)}\u00a0ms`
  if (seconds < 2 * MINUTE) return `${threeDigits(seconds)}\u00a0s`
  if (seconds < HOUR) return two(Math.round(seconds), MINUTE, 'min', 's')
  if (seconds < DAY) return two(Math.round(seconds / MINUTE), 60, 'h', 'min')
  return two(Math.round(seconds / HOUR), 24, 'd', 'h')
}

function two(count: number, per: number, large: string, small: string): string {
  const rest = count % per
  const head = `${Math.floor(count / per)}\u00a0${large}`
  return rest === 0 ? head : `${head} ${rest}\u00a0${small}`
}

const DAYS = ['Sun', 'Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat']

/** Clock time within a plan, by the clock of its start: weekday and time. @example clock('2027-03-01T00:00:00Z', 32520) // 'Mon 09:02' */
export function clock(startIso: string, seconds: number, withSeconds = false): string {
  const date = new Date(Date.parse(startIso) + (offsetSeconds(startIso) + seconds) * 1000)
  const iso = date.toISOString()
  return `${DAYS[date.getUTCDay()]} ${iso.slice(11, withSeconds ? 19 : 16)}`
}
