import { Outcome } from '../engine/outcome.ts'
import type { RunRecord } from '../engine/record.ts'
import type { RequestClass, Target } from '../plan/schema.ts'
import { measureOf, selected, wayOf, type Selection } from './measures.ts'
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

/** What is promised, with the time after which who is still there counts as never served: see {@link overdueSeconds}. */
export interface TargetPromise {
  target: Target
  overdueSeconds: number
}

/** Of a class that is promised no time of its own and has no patience. */
const OVERDUE_SECONDS = 60

/**
 * How long a request of a class may be there without a first token before it counts as a miss of every time target: its
 * patience or the longest time that it is promised, whichever is longer; 60 s without either.
 */
export function overdueSeconds({ patienceSeconds = 0, targets }: Pick<RequestClass, 'patienceSeconds' | 'targets'>): number {
  const promised = targets.map((t) => (t.measure === 'lost' || t.measure === 'throughput' || t.measure === 'tpot' ? 0 : t.seconds))
  return Math.max(patienceSeconds, ...promised) || OVERDUE_SECONDS
}

/**
 * Reads one target off a run. Lost requests count as misses. A request that is unfinished at the end counts as a miss
 * once it has been there longer than the target allows, or than its class can count as served at all; before that nobody
 * knows, and it does not count.
 *
 * @param margin head-room that a time target must keep, share of the target
 */
export function readTarget(record: RunRecord, promise: TargetPromise, selection: Selection, margin: number): TargetReading {
  const { target } = promise
  if (target.measure === 'throughput') return readThroughput(record, selection)
  if (target.measure === 'lost') return readLost(record, selection)
  return readTime(record, { target, overdueSeconds: promise.overdueSeconds }, selection, margin)
}

/** What is read of a class of which some came and none finished: no promise is kept to it. Undefined where one finished, or none came. */
export function unserved(record: RunRecord, { measure }: Target, selection: Selection): TargetReading | undefined {
  let came = 0
  for (let i = 0; i < record.requests.count; i++) {
    if (!selected(record, i, selection)) continue
    if (record.outcome[i] === Outcome.finished) return undefined
    came++
  }
  if (came === 0) return undefined
  return { value: measure === 'throughput' ? 0 : measure === 'lost' ? 1 : Infinity, misses: came, considered: came }
}

type TimeTarget = Extract<Target, { percentile: number }>

interface TimePromise extends TargetPromise {
  target: TimeTarget
}

function readTime(record: RunRecord, promise: TimePromise, selection: Selection, margin: number): TargetReading {
  const { target } = promise
  if (target.over === 'worst-hour') return readWorstHour(record, promise, selection, margin)
  const limit = limitSeconds(target, margin)
  const values = new Float64Array(record.requests.count)
  let n = 0
  let misses = 0
  for (let i = 0; i < values.length; i++) {
    if (!selected(record, i, selection)) continue
    const value = promised(record, i, promise, limit)
    if (value !== value) continue
    values[n++] = value
    if (value > limit) misses++
  }
  return { value: percentileOf(values.subarray(0, n), target.percentile / 100), misses, considered: n }
}

/** The hour that comes out worst speaks for all; hours with too few arrivals for the percentile are not read. */
function readWorstHour(record: RunRecord, promise: TimePromise, selection: Selection, margin: number): TargetReading {
  const { target } = promise
  const limit = limitSeconds(target, margin)
  const arrivals = arrivalsByHour(record, selection)
  let worst: TargetReading = { value: undefined, misses: 0, considered: 0 }
  valuesByHour(record, selection, (i) => promised(record, i, promise, limit)).forEach((values, hour) => {
    if (arrivals[hour] < leastOfHour(target.percentile)) return
    const value = percentileOf(values, target.percentile / 100)
    if (value === undefined || (worst.value !== undefined && value <= worst.value)) return
    worst = { value, misses: values.reduce((n, v) => n + (v > limit ? 1 : 0), 0), considered: values.length }
  })
  return worst
}

/** A measure where the promise is kept: at the caller, or at the service. */
export function valueWhere(record: RunRecord, i: number, { measure, at }: Pick<TimeTarget, 'measure' | 'at'>): number {
  const value = measureOf(record, i, measure)
  return at === 'service' ? value - wayOf(record, i, measure) : value
}

/** The value that counts against a promise: Infinity when it is broken without a value, NaN when nobody knows. */
export function promised(record: RunRecord, i: number, { target, overdueSeconds }: TimePromise, limit: number): number {
  const outcome = record.outcome[i]
  if (outcome !== Outcome.unfinished && outcome !== Outcome.finished) return Infinity
  const value = valueWhere(record, i, target)
  if (value === value || outcome === Outcome.finished) return value
  if (target.measure === 'tpot') return unfinishedTpot(record, i, overdueSeconds, limit)
  const way = target.at === 'service' ? 0 : wayOf(record, i, target.measure)
  return record.endSeconds - record.at[i] + way > limit ? Infinity : NaN
}

/** Who has a first token is late once its time so far is too long for all of its tokens; who has none once it is overdue. */
function unfinishedTpot(record: RunRecord, i: number, overdueSeconds: number, limit: number): number {
  const {
    at,
    firstToken,
    endSeconds,
    requests: { output },
  } = record
  if (output[i] < 2) return NaN
  const served = firstToken[i] === firstToken[i]
  const isLate = served ? endSeconds - firstToken[i] > limit * (output[i] - 1) : endSeconds - at[i] > overdueSeconds
  return isLate ? Infinity : NaN
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

/**
 * How many of n requests (of an hour, where a target is read by the hour) may miss a target before it is broken; undefined for targets
 * that no count decides.
 */
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
