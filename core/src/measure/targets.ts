import { Outcome } from '../engine/outcome.ts'
import type { RunRecord } from '../engine/record.ts'
import type { Target } from '../plan/schema.ts'
import { measureOf, selected, type Selection } from './measures.ts'
import { percentileOf, rank } from './percentile.ts'
import { arrivalsByHour, leastOfHour, valuesByHour } from './readingHours.ts'

/** What one run says of one target. */
export interface TargetReading {
  /**
   * Time targets: the percentile in seconds with lost and hopelessly late requests as Infinity; lost: share;
   * throughput: requests per second. Undefined when no request counts.
   */
  value: number | undefined
  /** counted requests that broke the target, and all that count */
  misses: number
  considered: number
}

/**
 * Reads one target off a run. Lost requests count as misses. A request that is unfinished at the end counts as a miss
 * once it has been there longer than the target allows; before that nobody knows, and it does not count.
 *
 * @param margin head-room that a time target must keep, share of the target
 */
export function readTarget(record: RunRecord, target: Target, selection: Selection, margin: number): TargetReading {
  if (target.measure === 'lost') return readLost(record, selection)
  if (target.measure === 'throughput') return readThroughput(record, selection)
  return readTime(record, target, selection, margin)
}

type TimeTarget = Extract<Target, { percentile: number }>

function readTime(record: RunRecord, target: TimeTarget, selection: Selection, margin: number): TargetReading {
  if (target.over === 'worst-hour') return readWorstHour(record, target, selection, margin)
  const limit = limitSeconds(target, margin)
  const values = new Float64Array(record.requests.count)
  let n = 0
  let misses = 0
  for (let i = 0; i < values.length; i++) {
    if (!selected(record, i, selection)) continue
    const value = promised(record, i, target.measure, limit)
    if (value !== value) continue
    values[n++] = value
    if (value > limit) misses++
  }
  return { value: percentileOf(values.subarray(0, n), target.percentile / 100), misses, considered: n }
}

/** The hour that comes out worst speaks for all; hours with too few arrivals for the percentile are not read. */
function readWorstHour(record: RunRecord, target: TimeTarget, selection: Selection, margin: number): TargetReading {
  const limit = limitSeconds(target, margin)
  const arrivals = arrivalsByHour(record, selection)
  let worst: TargetReading = { value: undefined, misses: 0, considered: 0 }
  valuesByHour(record, selection, (i) => promised(record, i, target.measure, limit)).forEach((values, hour) => {
    if (arrivals[hour] < leastOfHour(target.percentile)) return
    const value = percentileOf(values, target.percentile / 100)
    if (value === undefined || (worst.value !== undefined && value <= worst.value)) return
    worst = { value, misses: values.reduce((n, v) => n + (v > limit ? 1 : 0), 0), considered: values.length }
  })
  return worst
}

/** The value that counts against a promise: Infinity when it is broken without a value, NaN when nobody knows. */
export function promised(record: RunRecord, i: number, measure: TimeTarget['measure'], limit: number): number {
  const outcome = record.outcome[i]
  if (outcome === Outcome.finished) return measureOf(record, i, measure)
  if (outcome !== Outcome.unfinished) return Infinity
  const value = measureOf(record, i, measure)
  if (value === value) return value
  if (measure === 'tpot') return NaN
  return record.endSeconds - record.at[i] > limit ? Infinity : NaN
}

function readLost(record: RunRecord, selection: Selection): TargetReading {
  let lost = 0
  let considered = 0
  for (let i = 0; i < record.requests.count; i++) {
    if (!selected(record, i, selection) || record.outcome[i] === Outcome.unfinished) continue
    considered++
    if (record.outcome[i] !== Outcome.finished) lost++
  }
  return { value: considered === 0 ? undefined : lost / considered, misses: lost, considered }
}

function readThroughput(record: RunRecord, selection: Selection): TargetReading {
  let finished = 0
  let considered = 0
  for (let i = 0; i < record.requests.count; i++) {
    if (!selected(record, i, selection)) continue
    considered++
    if (record.outcome[i] === Outcome.finished) finished++
  }
  const seconds = selection.untilSeconds - selection.fromSeconds
  return { value: considered === 0 ? undefined : finished / seconds, misses: considered - finished, considered }
}

/** Largest value of a time target that still keeps the margin. */
export function limitSeconds(target: TimeTarget, margin: number): number {
  return target.seconds * (1 - margin)
}

/** What a target's value is compared with, and which side is good. */
export function limitOf(target: Target, margin: number): { limit: number; smallerIsBetter: boolean } {
  if (target.measure === 'lost') return { limit: target.share, smallerIsBetter: true }
  if (target.measure === 'throughput') return { limit: target.perSecond, smallerIsBetter: false }
  return { limit: limitSeconds(target, margin), smallerIsBetter: true }
}

/** How much of its limit, head-room taken off, a value uses: 1 is just enough, above is a miss. */
export function strainOf(value: number, target: Target, margin: number): number {
  const { limit, smallerIsBetter } = limitOf(target, margin)
  if (!smallerIsBetter) return limit / value
  return value === 0 ? 0 : value / limit
}

/** Whether one reading keeps the target; a class without requests keeps every promise but throughput. */
export function holds(reading: TargetReading, target: Target, margin: number): boolean {
  const { limit, smallerIsBetter } = limitOf(target, margin)
  if (reading.value === undefined) return smallerIsBetter
  return smallerIsBetter ? reading.value <= limit : reading.value >= limit
}

/** How many of n requests (of an hour, where a target is read by the hour) may miss a target before it is broken; undefined for targets that no count decides. */
export function allowedMisses(target: Target, n: number): number | undefined {
  if (target.measure === 'throughput') return undefined
  if (target.measure === 'lost') return Math.floor(target.share * n + 1e-9)
  return n - rank(n, target.percentile / 100)
}

/** Head-room of a value against its full target (margin not taken off): 0.2 is 20 %; negative when it misses. */
export function headRoom(value: number | undefined, target: Target): number | undefined {
  if (value === undefined) return undefined
  if (target.measure === 'throughput') return value / target.perSecond - 1
  if (target.measure === 'lost') return target.share === 0 ? (value === 0 ? 1 : -Infinity) : 1 - value / target.share
  return 1 - value / target.seconds
}
