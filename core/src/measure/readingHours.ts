import { selected, type Selection } from './measures.ts'
import type { RunRecord } from '../engine/record.ts'

export const HOUR_SECONDS = 3600

/** The hour of the horizon in which a request arrives, from 0. */
export const hourOf = (at: number): number => Math.floor(at / HOUR_SECONDS)

/**
 * Requests that must arrive in an hour for its percentile to be read: with fewer, the percentile would be the slowest
 * single request.
 *
 * @param percentile in (0, 100)
 * @example leastOfHour(95) // 20
 */
export function leastOfHour(percentile: number): number {
  return Math.ceil(100 / (100 - percentile) - 1e-9)
}

/** Values of requests by hour of arrival: views of one array that is filled by counting. NaN is left out. */
export function valuesByHour(record: RunRecord, selection: Selection, valueOf: (i: number) => number): Float64Array[] {
  const counts = new Int32Array(hourOf(record.endSeconds) + 3)
  const last = counts.length - 2
  const each = (take: (hour: number, value: number) => void) => {
    for (let i = 0; i < record.requests.count; i++) {
      if (!selected(record, i, selection)) continue
      const value = valueOf(i)
      if (value === value) take(Math.min(last, hourOf(record.at[i])), value)
    }
  }
  each((hour) => counts[hour + 1]++)
  for (let h = 1; h < counts.length; h++) counts[h] += counts[h - 1]
  const values = new Float64Array(counts[counts.length - 1])
  const heads = counts.slice()
  each((hour, value) => (values[heads[hour]++] = value))
  return Array.from({ length: counts.length - 1 }, (_, h) => values.subarray(counts[h], counts[h + 1]))
}

/** How many requests arrive in each hour. */
export function arrivalsByHour(record: RunRecord, selection: Selection): Int32Array {
  const out = new Int32Array(hourOf(record.endSeconds) + 2)
  for (let i = 0; i < record.requests.count; i++) if (selected(record, i, selection)) out[Math.min(out.length - 1, hourOf(record.at[i]))]++
  return out
}
