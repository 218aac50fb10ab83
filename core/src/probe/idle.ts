import type { ScalingPolicy } from '../plan/lifeSchema.ts'
import { percentileInterval, type MeasuredPercentile } from '../measure/orderStatistics.ts'
import { duration } from '../units/duration.ts'
import type { ProbedRequest } from './probed.ts'

/** What the first calls after idle showed. Seconds. */
export interface IdleShown {
  /** it was still awake after so long without a call, and asleep after so long; undefined where it never was */
  awakeSeconds?: number
  asleepSeconds?: number
  /** until the first token of who is not the first */
  warmSeconds?: number
  /** by how much the first caller waited longer: a start-up; undefined where he was turned away or never slept */
  start?: MeasuredPercentile & { calls: number }
  /** the status with which the first caller was turned away */
  refused?: number
}

/** Parts of a measurement whose first call comes after idle, and that of calls that do not. */
export const afterIdleLabel = (seconds: number): string =>
  `after ${duration(seconds)} without a call`.replaceAll(/[\u00a0\u202f\u2009]/g, ' ')
export const AWAKE = 'while awake'
/** Whether a part is of a first call after idle: what it waited for may be a start-up, and no step. */
export const isAfterIdle = (part: string): boolean => part.endsWith('without a call')

/** Who waits so many times as long as usual, and so much longer, waits for a start-up. */
const COLD_TIMES = 2
const COLD_SECONDS = 0.3

/** Whether a first call met a service that slept. @param firstSeconds until its first token; undefined where it did not finish */
export const isCold = (firstSeconds: number | undefined, warmSeconds: number): boolean =>
  firstSeconds === undefined || firstSeconds > COLD_TIMES * warmSeconds + COLD_SECONDS

/**
 * What the first calls after idle showed, by the idle time that each of them really had; undefined where there are none, or no others to
 * tell them from.
 */
export function idleShown(rows: readonly ProbedRequest[]): IdleShown | undefined {
  const inOrder = [...rows].sort((a, b) => a.due - b.due)
  const firstOf = (r: ProbedRequest) => (r.outcome === 'finished' ? r.firstToken - r.due : undefined)
  // The very first call may have met a service that slept.
  const others = inOrder.filter((r, i) => i > 0 && !isAfterIdle(r.part)).flatMap((r) => firstOf(r) ?? [])
  const after = inOrder.flatMap((r, i) => (isAfterIdle(r.part) && i > 0 ? [{ idle: r.due - lastEnd(inOrder, i), row: r }] : []))
  const warm = percentileInterval(Float64Array.from(others).sort(), 0.5)?.value
  if (after.length === 0 || warm === undefined) return undefined
  const cold = after.filter(({ row }) => isCold(firstOf(row), warm))
  const asleep = Math.min(...cold.map((c) => c.idle))
  const awake = Math.max(...after.filter((a) => !cold.includes(a) && a.idle < asleep).map((a) => a.idle))
  const waits = Float64Array.from(cold.flatMap(({ row }) => (firstOf(row) ?? NaN) - warm).filter((s) => !Number.isNaN(s))).sort()
  const start = percentileInterval(waits, 0.5)
  const refused = cold.find(({ row }) => row.outcome === 'rejected')?.row.status
  return {
    ...(Number.isFinite(awake) && { awakeSeconds: awake }),
    ...(Number.isFinite(asleep) && { asleepSeconds: asleep }),
    warmSeconds: warm,
    ...(start && { start: { ...start, calls: waits.length } }),
    ...(refused !== undefined && { refused }),
  }
}

/** Until when the calls before one took. */
const lastEnd = (inOrder: readonly ProbedRequest[], i: number): number =>
  inOrder.slice(0, i).reduce((last, r) => Math.max(last, r.end), -Infinity)

/** As a policy of a plan has it: half-way between the two times that were tried. */
export function idleOf({ awakeSeconds, asleepSeconds, refused }: IdleShown): ScalingPolicy['idle'] {
  if (asleepSeconds === undefined) return undefined
  const seconds = awakeSeconds === undefined ? asleepSeconds : (awakeSeconds + asleepSeconds) / 2
  return { seconds, firstCaller: refused === undefined ? 'hold' : 'refuse' }
}

/** The same as sentences. */
export function idleWords(shown: IdleShown | undefined): string[] {
  if (!shown) return []
  const { awakeSeconds, asleepSeconds, warmSeconds, start, refused } = shown
  if (asleepSeconds === undefined) return [`It was still awake after ${duration(awakeSeconds)} without a call: it never slept here.`]
  const when =
    awakeSeconds === undefined
      ? `It sleeps after ${duration(asleepSeconds)} without a call; after how much less was not tried.`
      : `It goes to sleep between ${duration(awakeSeconds)} and ${duration(asleepSeconds)} after the last call.`
  const interval =
    start?.low !== undefined && start.high !== undefined ? ` (${duration(start.low)} to ${duration(start.high)} with 95 %)` : ''
  return [
    when,
    ...(refused === undefined ? [] : [`Who comes first then is turned away, with status ${refused}.`]),
    ...(start
      ? [
          `Who comes first then waits ${duration(start.value)} longer than the ${duration(warmSeconds)} of others${interval}, by ${start.calls === 1 ? 'one call' : `${start.calls} calls`}: a start-up.`,
        ]
      : []),
  ]
}
