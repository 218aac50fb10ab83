import { Outcome } from '../engine/outcome.ts'
import type { RunRecord } from '../engine/record.ts'
import { wayIn } from '../plan/way.ts'

/** What can be measured of one request, in seconds. */
export type Measure = 'wait' | 'ttft' | 'tpot' | 'latency'
export const MEASURES: readonly Measure[] = ['wait', 'ttft', 'tpot', 'latency']

/**
 * One measure of one request: wait = start − arrival; TTFT = first token − arrival;
 * TPOT = (end − first token)/(output − 1); latency = end − arrival.
 *
 * TTFT and latency are those at the caller, with the way to the service and back. For fixed work the first token is the end, and
 * there is no TPOT. Arrival is that of the first attempt, at the service.
 *
 * @returns NaN where it has none: not reached, or TPOT of an answer of one token
 */
export function measureOf(record: RunRecord, i: number, measure: Measure): number {
  const at = record.at[i]
  switch (measure) {
    case 'wait':
      return record.start[i] - at
    case 'ttft':
      return record.firstToken[i] - at + wayOf(record, i, measure)
    case 'latency':
      return record.outcome[i] === Outcome.finished ? record.end[i] - at + wayOf(record, i, measure) : NaN
    case 'tpot': {
      const output = record.requests.output[i]
      return record.outcome[i] === Outcome.finished && output > 1 && record.end[i] > record.firstToken[i]
        ? (record.end[i] - record.firstToken[i]) / (output - 1)
        : NaN
    }
  }
}

/** Seconds of a measure at the caller that are the way. */
export function wayOf({ ways, requests }: RunRecord, i: number, measure: Measure): number {
  return ways === undefined ? 0 : wayIn(ways[requests.classIndex[i]], measure)
}

/** Which requests are looked at: one class (or all, −1), those that arrive in [from, until). */
export interface Selection {
  classIndex: number
  fromSeconds: number
  untilSeconds: number
}

/** Values of finished requests, ascending. */
export function finishedValues(record: RunRecord, measure: Measure, selection: Selection): Float64Array {
  return valuesAsTheyCame(record, measure, selection).sort()
}

/** The same in the order of the requests. */
export function valuesAsTheyCame(record: RunRecord, measure: Measure, selection: Selection): Float64Array {
  const values = new Float64Array(record.requests.count)
  let n = 0
  for (let i = 0; i < values.length; i++) {
    if (record.outcome[i] !== Outcome.finished || !selected(record, i, selection)) continue
    const value = measureOf(record, i, measure)
    if (value === value) values[n++] = value
  }
  return values.slice(0, n)
}

export function selected(record: RunRecord, i: number, selection: Selection): boolean {
  const at = record.at[i]
  if (selection.classIndex >= 0 && record.requests.classIndex[i] !== selection.classIndex) return false
  return at >= selection.fromSeconds && at < selection.untilSeconds
}
