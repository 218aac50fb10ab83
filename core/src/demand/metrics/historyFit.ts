import { exp, ln } from '../../arithmetic/sameBits.ts'
import { BadInput } from '../../plan/problem.ts'
import type { Size } from '../../plan/schema.ts'
import { dayAndHour, weekPlace } from '../calendar.ts'
import type { Aspect, ClassFit } from '../fitted/classFit.ts'
import { growthOf, type LogFit } from '../fitted/fitLog.ts'
import type { SizeFit } from '../fitted/sizeFit.ts'
import { fitWeek, hoursOfWeek, UNEVEN_HOURS, type HourCount } from '../fitted/weekFit.ts'
import { HOUR_SECONDS } from '../rateKinds.ts'
import { bucketQuantile, bucketsOf } from './buckets.ts'
import { pouredInto, steps, total, usualStep, type Step } from './increases.ts'
import { guessClassLabel, type Metric, type Role, type Roles } from '../../files/metrics/roles.ts'
import type { Series } from '../../files/metrics/series.ts'

const LEAST_WEEK_SECONDS = 24 * HOUR_SECONDS
const LEAST_HOURS_SECONDS = 6 * LEAST_WEEK_SECONDS
/** Less than this of an hour says little of it. */
const LEAST_SEEN = 0.02

/** What is said of the time beside its load. */
export interface HistoryFit extends LogFit {
  /** the usual time between two samples: what happens within is unknown */
  stepSeconds: number
  /** what the history shows of how it was served; undefined where it does not */
  served: { inFlight?: number; replicas?: number; latencyP50Seconds?: number; latencyP95Seconds?: number }
}

/**
 * Describes a metrics history as a load that can be drawn. What it counts is known by the step of its samples: hours, days, growth and
 * sizes, and not how unevenly requests come within a step, which is left at pure chance.
 *
 * @param by label whose values are classes; guessed if left out, none if null
 * @throws BadInput where nothing is said to be arrivals, or nothing arrived
 */
export function fitHistory(metrics: readonly Metric[], roles: Roles, by?: string | null): HistoryFit {
  const of = (role: Role): Metric | undefined => metrics.find((m) => m.name === roles[role])
  const arrivals = countsOf(of('arrivals'))
  if (arrivals.length === 0) throw new BadInput('This history has no load.', [{ path: 'arrivals', rule: 'must be one of its metrics' }])
  const label = by === null ? undefined : (by ?? guessClassLabel(arrivals))
  const names = label === undefined ? [''] : [...new Set(arrivals.map((s) => s.labels[label] ?? ''))]
  const [from, until] = spanOf(arrivals)
  const ofClass = (all: readonly Series[], name: string) =>
    label === undefined ? all : all.filter((s) => (s.labels[label] ?? '') === name)
  const start = new Date(from * 1000).toISOString()
  const classes = names.map((name) => {
    const counted = ofClass(arrivals, name).flatMap(steps)
    return fitClass({
      name: name === '' ? 'requests' : name,
      start,
      seconds: until - from,
      hours: hoursFrom(counted, from, until),
      input: sizeOf(of('input'), (all) => ofClass(all, name), total(counted)),
      output: sizeOf(of('output'), (all) => ofClass(all, name), total(counted)),
      stepSeconds: usualStep(arrivals[0]),
    })
  })
  const heard = classes.filter((c) => c.count > 0)
  if (heard.length === 0)
    throw new BadInput('This history has no load.', [{ path: roles.arrivals ?? 'arrivals', rule: 'has to grow: nothing arrived' }])
  return { classes: heard, splitAt: undefined, start, seconds: until - from, stepSeconds: usualStep(arrivals[0]), served: servedOf(of) }
}

/** The series of a metric that count: of a histogram its number of observations. */
function countsOf(metric: Metric | undefined): readonly Series[] {
  return (metric?.series ?? []).filter((s) => metric?.kind !== 'histogram' || s.name.endsWith('_count')).filter((s) => s.at.length > 1)
}

const spanOf = (all: readonly Series[]): [number, number] => [
  Math.min(...all.map((s) => s.at[0])),
  Math.max(...all.map((s) => s.at[s.at.length - 1])),
]

/**
 * Steps poured into the clock hours that they lie in, evenly. An hour was seen as far as any of them covers it: copies that come and go
 * each cover only their own time, and what they counted adds up.
 *
 * @param from @param until seconds since 1970
 */
function hoursFrom(all: readonly Step[], from: number, until: number): HourCount[] {
  const place = weekPlace(new Date(from * 1000).toISOString())
  const before = place.secondOfWeek % HOUR_SECONDS
  const hours = Array.from({ length: Math.ceil((before + until - from) / HOUR_SECONDS) }, (_, i): HourCount => ({
    count: 0,
    seen: 0,
    ...dayAndHour(place, Math.max(0, i * HOUR_SECONDS - before)),
  }))
  const poured = (of: readonly Step[]) => pouredInto(of, from - before, HOUR_SECONDS, hours.length)
  poured(all).forEach((count, i) => (hours[i].count = count))
  const seconds = covered(all).map((span) => ({ ...span, amount: span.untilSeconds - span.fromSeconds }))
  poured(seconds).forEach((seen, i) => (hours[i].seen = Math.min(1, seen / HOUR_SECONDS)))
  return hours.map((h) => (h.seen < LEAST_SEEN ? { ...h, count: 0, seen: 0 } : h))
}

/** The time that any step covers, in pieces that do not overlap. */
function covered(all: readonly Step[]): Omit<Step, 'amount'>[] {
  const spans: { fromSeconds: number; untilSeconds: number }[] = []
  for (const { fromSeconds, untilSeconds } of [...all].sort((a, b) => a.fromSeconds - b.fromSeconds)) {
    const last = spans.at(-1)
    if (last && fromSeconds <= last.untilSeconds) last.untilSeconds = Math.max(last.untilSeconds, untilSeconds)
    else spans.push({ fromSeconds, untilSeconds })
  }
  return spans
}

interface Counted {
  name: string
  start: string
  seconds: number
  hours: HourCount[]
  input: SizeFit | undefined
  output: SizeFit | undefined
  stepSeconds: number
}

function fitClass({ name, start, seconds, hours, input, output, stepSeconds }: Counted): ClassFit {
  const count = hours.reduce((sum, h) => sum + h.count, 0)
  const seen = hours.reduce((sum, h) => sum + h.seen, 0) * HOUR_SECONDS
  const week = seconds >= LEAST_WEEK_SECONDS ? fitWeek(hours) : undefined
  const weekHours = week && seconds >= LEAST_HOURS_SECONDS ? hoursOfWeek(hours) : undefined
  const growth = week && growthOf(hours, week)
  const clear: Aspect[] = [
    ...(weekHours && week && week.dispersion > UNEVEN_HOURS ? (['hours'] as const) : []),
    ...(week?.isClear ? (['week'] as const) : []),
    ...(growth && (growth.low > 0 || growth.high < 0) ? (['growth'] as const) : []),
  ]
  return {
    name,
    count,
    seconds,
    ratePerSecond: seen > 0 ? count / seen : 0,
    week,
    weekHours,
    growth,
    bursts: { variation: 1, dispersion: [], bursts: undefined },
    input: input ?? { size: { kind: 'fixed', value: 1 }, distance: 0 },
    output,
    correlation: 0,
    sessions: undefined,
    start,
    perHour: hours.map((h) => (h.seen > 0 ? h.count / (h.seen * HOUR_SECONDS) : 0)),
    clear,
    stepSeconds,
    unsaid: [...(input ? [] : (['input'] as const)), ...(output ? [] : (['output'] as const))],
  }
}

/** Between two bounds as sizes and times spread: evenly by their logarithm, or plainly from 0. */
const between = (a: number, b: number, t: number) => (a > 0 ? a * exp(t * ln(b / a)) : b * t)

/** Sizes by the buckets of a histogram, or by their mean alone; undefined where no metric says them. */
function sizeOf(metric: Metric | undefined, ofClass: (all: readonly Series[]) => readonly Series[], requests: number): SizeFit | undefined {
  if (!metric || requests <= 0) return undefined
  const its = ofClass(metric.series)
  if (metric.kind === 'histogram') {
    const buckets = bucketsOf(its.filter((s) => s.name.endsWith('_bucket')))
    const [median, p95] = [0.5, 0.95].map((share) => Math.max(1, Math.round(bucketQuantile(buckets, share, between))))
    if (!Number.isNaN(median)) return { size: sizeFrom(median, Math.max(median, p95)), distance: NaN }
  }
  const counters = its.filter((s) => metric.kind !== 'histogram' || s.name.endsWith('_sum'))
  const mean = total(counters.flatMap(steps)) / requests
  return mean > 0 ? { size: { kind: 'exponential', mean: Number(mean.toPrecision(4)) }, distance: NaN } : undefined
}

const sizeFrom = (median: number, p95: number): Exclude<Size, { kind: 'log' }> =>
  p95 > median ? { kind: 'lognormal', median, p95 } : { kind: 'fixed', value: median }

function servedOf(of: (role: Role) => Metric | undefined): HistoryFit['served'] {
  // Copies that come and go are there for their own time only: what they add up to, over the time that any of them was.
  const mean = (role: Role) => {
    const all = (of(role)?.series ?? []).flatMap(steps)
    return total(all) / covered(all).reduce((sum, span) => sum + span.untilSeconds - span.fromSeconds, 0)
  }
  const latency = of('latency')
  const buckets = latency ? bucketsOf(latency.series.filter((s) => s.name.endsWith('_bucket'))) : []
  const [p50, p95] = [0.5, 0.95].map((share) => bucketQuantile(buckets, share, between))
  return {
    ...(mean('in-flight') >= 0 && { inFlight: mean('in-flight') }),
    ...(mean('replicas') >= 0 && { replicas: mean('replicas') }),
    ...(!Number.isNaN(p50) && { latencyP50Seconds: p50, latencyP95Seconds: p95 }),
  }
}
