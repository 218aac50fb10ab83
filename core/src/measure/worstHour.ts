import { Outcome } from '../engine/outcome.ts'
import type { RunRecord } from '../engine/record.ts'
import { measureOf, type Measure, type Selection } from './measures.ts'
import { mean, percentile } from './percentile.ts'
import { HOUR_SECONDS, valuesByHour } from './readingHours.ts'

/** One hour of a run, counted from the start of the horizon, and what its finished requests measured, seconds. */
export interface WorstHour {
  fromSeconds: number
  count: number
  mean: number
  p95: number
  p99: number
}

/** The hour of arrival with the largest 95th percentile, the first of several; null when nobody finished. */
export function worstHour(record: RunRecord, measure: Measure, selection: Selection): WorstHour | null {
  const hours = valuesByHour(record, selection, (i) => (record.outcome[i] === Outcome.finished ? measureOf(record, i, measure) : NaN))
  let worst: WorstHour | null = null
  hours.forEach((values, hour) => {
    const p95 = percentile(values.sort(), 0.95)
    if (p95 === undefined || (worst !== null && p95 <= worst.p95)) return
    worst = { fromSeconds: hour * HOUR_SECONDS, count: values.length, mean: mean(values) ?? p95, p95, p99: percentile(values, 0.99) ?? p95 }
  })
  return worst
}
