import { exp, ln } from '../../arithmetic/sameBits.ts'
import type { GeneratedArrivals } from '../../plan/arrivalKinds.ts'
import type { Bursts, RequestClass } from '../../plan/schema.ts'
import { weekPlace } from '../calendar.ts'
import { rateAt, rateCurve, type RateCurve } from '../rate.ts'
import { HOUR_SECONDS, rateKind } from '../rateKinds.ts'
import type { Aspect, ClassFit } from './classFit.ts'

const MONTH_SECONDS = 730 * HOUR_SECONDS

/**
 * The arrivals that are like those of a class, with what is taken of its fit.
 *
 * @param from where its clock begins: with the log, or when that ends
 */
export function arrivalsBy(
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
export function alongTheWeek(arrivals: GeneratedArrivals, seconds: number, start: string): RateCurve {
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
  // In the middle of what the log has of the hour: at its ends it would be a matter of rounding which hour is meant.
  return fit.perHour.map((_, i) => {
    const from = Math.max(0, i * HOUR_SECONDS - before)
    const until = Math.min(fit.seconds, (i + 1) * HOUR_SECONDS - before)
    return rateAt(curve, (from + until) / 2)
  })
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
  /**
   * coefficient of variation of the gaps between requests, 1 is pure chance: assumed where a history does not say how unevenly they come
   * within its steps
   */
  variation?: number
}

/** What a class of a plan states, drawn like a class of a log. @param taken what of the fit is in it */
export function drawnLike(
  fit: ClassFit,
  taken: ReadonlySet<Aspect>,
  { scale = 1, shiftHours = 0, growthPerMonth, variation = 1 }: Likeness = {},
): Pick<RequestClass, 'arrivals' | 'input' | 'output' | 'lengthCorrelation' | 'turns'> {
  const sessions = taken.has('sessions') ? fit.sessions : undefined
  const like = arrivalsBy(fit, taken, sessions ? (fit.ratePerSecond * sessions.count) / fit.count : fit.ratePerSecond, 'end')
  const assumed: Bursts | undefined = fit.stepSeconds !== undefined && variation !== 1 ? { kind: 'gamma', variation } : undefined
  const bursts = taken.has('bursts') ? fit.bursts.bursts : assumed
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
