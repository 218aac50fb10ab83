import { Outcome } from '../engine/outcome.ts'
import type { RunRecord } from '../engine/record.ts'
import { measureOf, selected, type Measure, type Selection } from './measures.ts'
import { mean, percentile } from './percentile.ts'

const HOUR_SECONDS = 3600

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
  const hours = byHour(record, measure, selection)
  let worst: WorstHour | null = null
  hours.forEach((values, hour) => {
    const p95 = percentile(values.sort(), 0.95)
    if (p95 === undefined || (worst !== null && p95 <= worst.p95)) return
    worst = { fromSeconds: hour * HOUR_SECONDS, count: values.length, mean: mean(values) ?? p95, p95, p99: percentile(values, 0.99) ?? p95 }
  })
  return worst
}

/** Values of finished requests by hour of arrival: views of one array that was filled by counting. */
function byHour(record: RunRecord, measure: Measure, selection: Selection): Float64Array[] {
  const counts = new Int32Array(Math.floor(record.endSeconds / HOUR_SECONDS) + 2)
  const eachValue = (take: (hour: number, value: number) => void) => {
    for (let i = 0; i < record.requests.count; i++) {
      if (record.outcome[i] !== Outcome.finished || !selected(record, i, selection)) continue
      const value = measureOf(record, i, measure)
      if (value === value) take(Math.floor(record.at[i] / HOUR_SECONDS), value)
    }
  }
  eachValue((hour) => counts[hour + 1]++)
  for (let h = 1; h < counts.length; h++) counts[h] += counts[h - 1]
  const values = new Float64Array(counts[counts.length - 1])
  const heads = counts.slice()
  eachValue((hour, value) => (values[heads[hour]++] = value))
  return Array.from({ length: counts.length - 1 }, (_, h) => values.subarray(counts[h], counts[h + 1]))
}
