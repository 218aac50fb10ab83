import { dayAndHour, type WeekPlace } from '../calendar.ts'
import { HOUR_SECONDS } from '../rateKinds.ts'

const DAYS = 7
const HOURS = 24
const ROUNDS = 60
/** A week that explains less is left out. */
const LEAST_EXPLAINED = 0.1
/** Where days and hours leave so many times pure chance, each hour of the week is taken as it was, if all of them are there. */
export const UNEVEN_HOURS = 3
/** Shares are said to so many places. */
const SHARE_PLACES = 3

/** The hours and days of a load: the rate is `ratePerSecond` times the share of the day times that of the hour. */
export interface WeekFit {
  /** at the busiest hour of the busiest day */
  ratePerSecond: number
  /** share of each day, Monday first; the largest is 1 */
  days: number[]
  /** share of each hour of the day; the largest is 1 */
  hours: number[]
  /** days and hours of which the log has nothing: they are taken to be as the middle of the others */
  unseenDays: number[]
  unseenHours: number[]
  /**
   * share of the differences between hours that it explains, beyond what as many shares would of pure chance (1 − dispersion around it
   * over that around one rate for all hours); 0 to 1
   */
  explained: number
  /** whether that is more than chance makes of hours that are all the same */
  isClear: boolean
  /** how much more than by pure chance the counts of hours differ from it; 1 is pure chance */
  dispersion: number
}

/** Counts of one clock hour, and how much of it was seen (0 to 1). */
export interface HourCount {
  count: number
  seen: number
  day: number
  hour: number
}

/** Arrivals counted by the clock hours of the horizon. @param at ascending, seconds after the start */
export function hourCounts(at: Float64Array, endSeconds: number, place: WeekPlace): HourCount[] {
  const before = place.secondOfWeek % HOUR_SECONDS
  const hours = Array.from({ length: Math.ceil((before + endSeconds) / HOUR_SECONDS) }, (_, i): HourCount => {
    const from = Math.max(0, i * HOUR_SECONDS - before)
    const until = Math.min(endSeconds, (i + 1) * HOUR_SECONDS - before)
    return { count: 0, seen: (until - from) / HOUR_SECONDS, ...dayAndHour(place, from) }
  })
  for (const t of at) hours[Math.min(hours.length - 1, Math.floor((t + before) / HOUR_SECONDS))].count++
  return hours
}

/**
 * The most likely shares of days and hours, by proportional fitting: sums over each day and each hour of the day are those of the log.
 *
 * @param hours counts by clock hour; fewer than two days of them have one share for all days
 * @returns undefined where nothing arrived
 */
export function fitWeek(hours: readonly HourCount[]): WeekFit | undefined {
  const total = hours.reduce((sum, h) => sum + h.count, 0)
  if (total === 0) return undefined
  const oneDay = hours.length < 2 * HOURS
  let day = new Array<number>(DAYS).fill(1)
  let hour = new Array<number>(HOURS).fill(1)
  for (let round = 0; round < ROUNDS; round++) {
    if (!oneDay) day = shares(hours, 'day', DAYS, (h) => hour[h.hour])
    hour = shares(hours, 'hour', HOURS, (h) => day[h.day])
  }
  const unseenDays = oneDay ? [] : unseen(hours, 'day', DAYS)
  const unseenHours = unseen(hours, 'hour', HOURS)
  fill(day, unseenDays)
  fill(hour, unseenHours)
  const mean = (h: HourCount) => day[h.day] * hour[h.hour] * h.seen
  const [topDay, topHour] = [Math.max(...day), Math.max(...hour)]
  const seen = hours.reduce((sum, h) => sum + h.seen, 0)
  const parameters = (oneDay ? 0 : DAYS - unseenDays.length - 1) + HOURS - unseenHours.length
  const around = dispersion(hours, mean, parameters)
  const flat = dispersion(hours, (h) => (total / seen) * h.seen, 1)
  const explained = flat > 0 ? Math.max(0, 1 - around / flat) : 0
  return {
    ratePerSecond: (topDay * topHour) / HOUR_SECONDS,
    days: day.map((d) => rounded(d / topDay)),
    hours: hour.map((h) => rounded(h / topHour)),
    unseenDays,
    unseenHours,
    explained,
    isClear: explained >= LEAST_EXPLAINED && flat > 1 + 4 * Math.sqrt(2 / Math.max(1, hours.length - 1)),
    dispersion: around,
  }
}

const rounded = (share: number) => Number(share.toFixed(SHARE_PLACES))

/** Requests a second in each hour of the week, from Monday 00:00; an hour that was not seen has the mean of the others. */
export function hoursOfWeek(hours: readonly HourCount[]): number[] {
  const count = new Float64Array(DAYS * HOURS)
  const seen = new Float64Array(DAYS * HOURS)
  for (const h of hours) {
    count[h.day * HOURS + h.hour] += h.count
    seen[h.day * HOURS + h.hour] += h.seen
  }
  const sum = (list: Float64Array) => list.reduce((a, b) => a + b, 0)
  const mean = sum(count) / Math.max(1e-9, sum(seen))
  return Array.from(count, (n, i) => (seen[i] > 0 ? n / seen[i] : mean) / HOUR_SECONDS)
}

/** What each day, or each hour of the day, has, divided by what it would have with a share of 1; 0 for one that was not seen. */
function shares(hours: readonly HourCount[], of: 'day' | 'hour', groups: number, other: (h: HourCount) => number): number[] {
  const count = new Array<number>(groups).fill(0)
  const expected = new Array<number>(groups).fill(0)
  for (const h of hours) {
    count[h[of]] += h.count
    expected[h[of]] += other(h) * h.seen
  }
  return count.map((n, g) => (expected[g] > 0 ? n / expected[g] : 0))
}

function unseen(hours: readonly HourCount[], of: 'day' | 'hour', groups: number): number[] {
  const seen = new Set(hours.filter((h) => h.seen > 0).map((h) => h[of]))
  return Array.from({ length: groups }, (_, g) => g).filter((g) => !seen.has(g))
}

function fill(values: number[], places: readonly number[]): void {
  const known = values.filter((_, i) => !places.includes(i)).sort((a, b) => a - b)
  for (const place of places) values[place] = known[Math.floor(known.length / 2)] ?? 1
}

function dispersion(hours: readonly HourCount[], mean: (h: HourCount) => number, parameters: number): number {
  const used = hours.filter((h) => mean(h) > 0)
  const sum = used.reduce((s, h) => s + ((h.count - mean(h)) * (h.count - mean(h))) / mean(h), 0)
  return used.length > parameters ? sum / (used.length - parameters) : 1
}
