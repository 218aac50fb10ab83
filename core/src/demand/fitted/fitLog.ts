import { exp, ln } from '../../arithmetic/sameBits.ts'
import type { GeneratedArrivals } from '../../plan/arrivalKinds.ts'
import type { RequestClass } from '../../plan/schema.ts'
import { weekPlace } from '../calendar.ts'
import type { RequestLog } from '../log/requestLog.ts'
import { rateAt, rateCurve, type RateCurve } from '../rate.ts'
import { HOUR_SECONDS, rateKind } from '../rateKinds.ts'
import { fitBursts, type BurstFit } from './burstFit.ts'
import { fitGrowth, type GrowthFit } from './growthFit.ts'
import { fitSessions, type SessionFit } from './sessionFit.ts'
import { correlationOf, fitSizes, type SizeFit } from './sizeFit.ts'
import { splitSize } from './splitBySize.ts'
import { fitWeek, hourCounts, hoursOfWeek, type HourCount, type WeekFit } from './weekFit.ts'

/** What may be taken from a log, or left. */
export const ASPECTS = {
  week: 'hours and days',
  hours: 'each hour of the week',
  growth: 'growth',
  bursts: 'bursts',
  correlation: 'long prompts with long answers',
  sessions: 'conversations',
} as const
export type Aspect = keyof typeof ASPECTS

const DAY_SECONDS = 24 * HOUR_SECONDS
const MONTH_SECONDS = 730 * HOUR_SECONDS
/** Hours of the day are told apart from so much time on, growth from so many days. */
const LEAST_WEEK_SECONDS = DAY_SECONDS
const LEAST_GROWTH_DAYS = 14
/** Where days and hours leave so many times pure chance, each hour of the week is taken as it was, if the log has all of them. */
const UNEVEN_HOURS = 3
const LEAST_HOURS_SECONDS = 6 * DAY_SECONDS
/** Below these nothing is said of a plan. */
const LEAST_CORRELATION = 0.1
const LEAST_TURNS = 1.5

/** What one class of a log is like. */
export interface ClassFit {
  name: string
  count: number
  /** of the log */
  seconds: number
  /** mean over the log */
  ratePerSecond: number
  /** undefined for a log of less than a day, or without a calendar */
  week: WeekFit | undefined
  /** requests a second of each hour of the week; undefined for less than six days */
  weekHours: number[] | undefined
  /** undefined for less than two weeks */
  growth: GrowthFit | undefined
  bursts: BurstFit
  input: SizeFit
  /** undefined where the log has no answers */
  output: SizeFit | undefined
  correlation: number
  /** undefined where the log does not say who asked */
  sessions: SessionFit | undefined
  /** of the log, and so the time of what is counted by the hour */
  start: string
  /** arrivals a second in each clock hour of the log: those that begin something, where there are conversations */
  perHour: number[]
  /** what of it is in a plan unless it is left out: what is clearly more than chance */
  clear: Aspect[]
}

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

function growthOf(hours: readonly HourCount[], week: WeekFit): GrowthFit | undefined {
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

/**
 * The arrivals that are like those of a class, with what is taken of its fit.
 *
 * @param from where its clock begins: with the log, or when that ends
 */
function arrivalsBy(
  fit: Pick<ClassFit, 'week' | 'weekHours' | 'growth' | 'seconds'>,
  taken: ReadonlySet<Aspect>,
  meanPerSecond: number,
  from: 'start' | 'end',
): GeneratedArrivals {
  const perMonth = taken.has('growth') ? (fit.growth?.perMonth ?? 0) : 0
  const grown = ln(1 + perMonth) * (fit.seconds / MONTH_SECONDS)
  // Rates are means over the log; what grows is less at its start and more at its end.
  const over = grown === 0 ? 1 : (exp(grown) - 1) / grown
  const rate = (mean: number) => rounded((mean / over) * (from === 'end' ? exp(grown) : 1))
  const growth = perMonth === 0 ? {} : { growthPerMonth: rounded(perMonth) }
  if (taken.has('hours') && fit.weekHours) return { kind: 'hourly', ratesPerSecond: fit.weekHours.map(rate), ...growth }
  if (!taken.has('week') || !fit.week) return { kind: 'steady', ratePerSecond: rate(meanPerSecond), ...growth }
  const { ratePerSecond, days, hours } = fit.week
  return { kind: 'weekly', ratePerSecond: rate(ratePerSecond), days, hours, ...growth }
}

/** The rate along a log; hours of the week begin on Monday, whenever the log does. */
function alongTheWeek(arrivals: GeneratedArrivals, seconds: number, start: string): RateCurve {
  const into = weekPlace(start).secondOfWeek
  if (arrivals.kind !== 'hourly') return rateCurve(arrivals, seconds, 1, start)
  const { from, rates } = rateCurve(arrivals, into + seconds)
  const first = from.findLastIndex((t) => t <= into)
  const growth = exp(-ln(1 + (arrivals.growthPerMonth ?? 0)) * (into / MONTH_SECONDS))
  return {
    from: from.subarray(first).map((t) => Math.max(0, t - into)),
    rates: rates.subarray(first).map((r) => r * growth),
    endSeconds: seconds,
  }
}

const rounded = (x: number) => Number(x.toPrecision(4))

/** Arrivals a second in each clock hour of a log, as what is taken of its fit has them. */
export function likenessPerHour(fit: ClassFit, taken: ReadonlySet<Aspect>): number[] {
  const mean = fit.ratePerSecond * (fit.clear.includes('sessions') && fit.sessions ? fit.sessions.count / fit.count : 1)
  const curve = alongTheWeek(arrivalsBy(fit, taken, mean, 'start'), fit.seconds, fit.start)
  const before = weekPlace(fit.start).secondOfWeek % HOUR_SECONDS
  return fit.perHour.map((_, i) => rateAt(curve, Math.max(0, i * HOUR_SECONDS - before)))
}

/** What is taken, less what something else of it takes the place of: each hour of the week that of hours and days. */
export function effective(taken: Iterable<Aspect>): ReadonlySet<Aspect> {
  const set = new Set(taken)
  if (set.has('hours')) set.delete('week')
  return set
}

/** What changes of a load that is drawn like a log. */
export interface Likeness {
  /** multiplies its rates */
  scale?: number
  /** moves its hours of the day so many later; whole ones */
  shiftHours?: number
  /** in place of the growth that the log has, a month of 730 hours */
  growthPerMonth?: number
}

/** What a class of a plan states, drawn like a class of a log. @param taken what of the fit is in it */
export function drawnLike(
  fit: ClassFit,
  taken: ReadonlySet<Aspect>,
  { scale = 1, shiftHours = 0, growthPerMonth }: Likeness = {},
): Pick<RequestClass, 'arrivals' | 'input' | 'output' | 'lengthCorrelation' | 'turns'> {
  const sessions = taken.has('sessions') ? fit.sessions : undefined
  const like = arrivalsBy(fit, taken, sessions ? (fit.ratePerSecond * sessions.count) / fit.count : fit.ratePerSecond, 'end')
  const bursts = taken.has('bursts') ? fit.bursts.bursts : undefined
  const arrivals = {
    ...rateKind(like).withRates(shifted(like, shiftHours), (perSecond) => rounded(perSecond * scale)),
    ...(growthPerMonth !== undefined && { growthPerMonth }),
    ...(bursts && { bursts }),
  }
  return {
    arrivals,
    input: fit.input.size,
    output: fit.output?.size ?? { kind: 'fixed', value: 1 },
    ...(taken.has('correlation') && canGoTogether(fit) && { lengthCorrelation: Math.max(-0.99, Math.min(0.99, rounded(fit.correlation))) }),
    ...(sessions && { turns: { count: sessions.turns, pauseSeconds: rounded(sessions.pauseSeconds) } }),
  }
}

function shifted(arrivals: GeneratedArrivals, hours: number): GeneratedArrivals {
  const later = (list: readonly number[]) => list.map((_, h) => list[(((h - hours) % list.length) + list.length) % list.length])
  if (arrivals.kind === 'weekly') return { ...arrivals, hours: later(arrivals.hours) }
  return arrivals.kind === 'hourly' ? { ...arrivals, ratesPerSecond: later(arrivals.ratesPerSecond) } : arrivals
}

const canGoTogether = ({ input, output }: ClassFit) => input.size.kind !== 'fixed' && output !== undefined && output.size.kind !== 'fixed'
