import { weekPlace } from '../calendar.ts'
import type { RequestLog } from '../log/requestLog.ts'
import { HOUR_SECONDS } from '../rateKinds.ts'
import { fitBursts } from './burstFit.ts'
import type { Aspect, ClassFit } from './classFit.ts'
import { fitGrowth, type GrowthFit } from './growthFit.ts'
import { alongTheWeek, arrivalsBy } from './likeness.ts'
import { fitSessions } from './sessionFit.ts'
import { correlationOf, fitSizes } from './sizeFit.ts'
import { splitSize } from './splitBySize.ts'
import { fitWeek, hourCounts, hoursOfWeek, UNEVEN_HOURS, type HourCount, type WeekFit } from './weekFit.ts'

const DAY_SECONDS = 24 * HOUR_SECONDS
/** Hours of the day are told apart from so much time on, growth from so many days. */
const LEAST_WEEK_SECONDS = DAY_SECONDS
const LEAST_GROWTH_DAYS = 14
const LEAST_HOURS_SECONDS = 6 * DAY_SECONDS
/** Below these nothing is said of a plan. */
const LEAST_CORRELATION = 0.1
const LEAST_TURNS = 1.5

/** What a log is like, class by class. */
export interface LogFit {
  classes: ClassFit[]
  /** of a log without classes that has short and long requests: the prompt from which on they are long */
  splitAt: number | undefined
  start: string
  seconds: number
}

/**
 * Describes a log as a load that can be drawn: classes, hours and days, growth, bursts, sizes and conversations.
 *
 * @param log at least one request; its classes are by its column, else by size where it has short and long requests
 */
export function fitLog(log: RequestLog): LogFit {
  const { requests } = log
  const seconds = Math.max(1, requests.at[requests.count - 1])
  const start = new Date((log.isCalendar ? log.startSeconds : 0) * 1000).toISOString()
  const unnamed = log.classNames.length === 1 && log.classNames[0] === ''
  const splitAt = unnamed ? splitSize(requests.input) : undefined
  const groups: [string, (i: number) => boolean][] =
    splitAt !== undefined
      ? [
          ['short', (i) => requests.input[i] < splitAt],
          ['long', (i) => requests.input[i] >= splitAt],
        ]
      : log.classNames.map((name, c) => [name || 'requests', (i) => requests.classIndex[i] === c])
  return { classes: groups.map(([name, is]) => fitClass(log, name, placesOf(requests.count, is), start, seconds)), splitAt, start, seconds }
}

function placesOf(count: number, is: (i: number) => boolean): Int32Array {
  const places = new Int32Array(count)
  let n = 0
  for (let i = 0; i < count; i++) if (is(i)) places[n++] = i
  return places.slice(0, n)
}

function fitClass(log: RequestLog, name: string, places: Int32Array, start: string, seconds: number): ClassFit {
  const { requests, callers, happened } = log
  const at = Float64Array.from(places, (p) => requests.at[p])
  const input = Int32Array.from(places, (p) => requests.input[p])
  const output = Int32Array.from(places, (p) => requests.output[p])
  const rowOf = (i: number) => requests.id[places[i]]
  const sessions =
    callers &&
    fitSessions(
      at,
      Int32Array.from(places, (p) => callers[requests.id[p]]),
      (i) => happened?.seconds[rowOf(i)] ?? NaN,
    )
  const talks = sessions !== undefined && sessions.meanTurns >= LEAST_TURNS
  // In conversations it is their beginnings that come by chance.
  const begins = talks ? Float64Array.from(sessions.starts, (i) => at[i]) : at
  const hours = hourCounts(begins, seconds, weekPlace(start))
  const week = log.isCalendar && seconds >= LEAST_WEEK_SECONDS ? fitWeek(hours) : undefined
  const weekHours = week && seconds >= LEAST_HOURS_SECONDS ? hoursOfWeek(hours) : undefined
  const byHours = weekHours !== undefined && week !== undefined && week.dispersion > UNEVEN_HOURS
  const growth = week && growthOf(hours, week)
  const grows = growth !== undefined && (growth.low > 0 || growth.high < 0)
  const fit = {
    name,
    count: at.length,
    seconds,
    ratePerSecond: at.length / seconds,
    week,
    weekHours,
    growth,
    input: fitSizes(input),
    sessions,
  }
  // Who leaves the hours of the week has its hours and days.
  const inTime: Aspect[] = [...(byHours ? (['hours'] as const) : []), ...(week?.isClear ? (['week'] as const) : [])]
  const clear: Aspect[] = [...inTime, ...(grows ? (['growth'] as const) : []), ...(talks ? (['sessions'] as const) : [])]
  const arrivals = arrivalsBy(fit, new Set(clear), begins.length / seconds, 'start')
  const curve = alongTheWeek(arrivals, seconds, start)
  const bursts = fitBursts(begins, curve)
  const correlation = log.columns.names.output === undefined ? 0 : correlationOf(input, output)
  if (bursts.bursts) clear.push('bursts')
  if (Math.abs(correlation) >= LEAST_CORRELATION) clear.push('correlation')
  return {
    ...fit,
    bursts,
    output: log.columns.names.output === undefined ? undefined : fitSizes(output),
    correlation,
    start,
    perHour: hours.map((h) => (h.seen > 0 ? h.count / (h.seen * HOUR_SECONDS) : 0)),
    clear,
  }
}

/** Growth beyond the hours and days of the week; undefined for less than two weeks. */
export function growthOf(hours: readonly HourCount[], week: WeekFit): GrowthFit | undefined {
  const days = Math.ceil(hours.length / 24)
  if (days < LEAST_GROWTH_DAYS) return undefined
  const sums = (of: (h: HourCount) => number) =>
    Array.from({ length: days }, (_, d) => hours.slice(24 * d, 24 * d + 24).reduce((s, h) => s + of(h), 0))
  return fitGrowth(
    sums((h) => h.count),
    sums((h) => week.days[h.day] * week.hours[h.hour] * h.seen),
    Array.from({ length: days }, (_, d) => (d + 0.5) * DAY_SECONDS),
  )
}
