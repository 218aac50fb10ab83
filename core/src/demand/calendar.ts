import { offsetSeconds } from '../units/clockTime.ts'

const DAY_SECONDS = 86_400
const HOUR_SECONDS = 3600

/** Where a horizon begins in its own week. */
export interface WeekPlace {
  /** seconds since Monday 00:00, by the clock of the start */
  secondOfWeek: number
}

/**
 * @param start a date and time with its offset, such as "2027-03-01T00:00:00+01:00"
 * @example weekPlace('2027-03-02T01:00:00Z').secondOfWeek // a Tuesday: 90000
 */
export function weekPlace(start: string): WeekPlace {
  const local = Date.parse(start) / 1000 + offsetSeconds(start)
  const days = Math.floor(local / DAY_SECONDS)
  // 1 January 1970 was a Thursday, three days after a Monday.
  const weekday = (((days + 3) % 7) + 7) % 7
  return { secondOfWeek: weekday * DAY_SECONDS + (local - days * DAY_SECONDS) }
}

/** Day (0 is Monday) and hour at a time of the horizon. */
export function dayAndHour(place: WeekPlace, seconds: number): { day: number; hour: number } {
  const s = place.secondOfWeek + seconds
  return { day: Math.floor(s / DAY_SECONDS + 1e-9) % 7, hour: Math.floor(s / HOUR_SECONDS + 1e-9) % 24 }
}

/** Times of the horizon at which a clock hour begins. */
export function clockHours(place: WeekPlace, endSeconds: number): number[] {
  const first = (HOUR_SECONDS - (place.secondOfWeek % HOUR_SECONDS)) % HOUR_SECONDS
  const out: number[] = []
  for (let t = first; t < endSeconds; t += HOUR_SECONDS) out.push(t)
  return out
}
