import type { RunRecord } from '../engine/record.ts'
import type { Plan } from '../plan/schema.ts'
import { countOutcomes, type Counts } from './counts.ts'
import { finishedValues, MEASURES, type Measure, type Selection } from './measures.ts'
import { mean, percentile } from './percentile.ts'
import { worstHour, type WorstHour } from './worstHour.ts'

/** Percentiles of finished requests, in seconds; undefined where there is no data. */
export interface Spread {
  count: number
  mean: number | undefined
  p50: number | undefined
  p90: number | undefined
  p95: number | undefined
  p99: number | undefined
  max: number | undefined
}

/** What one run says of one class, or of all together. */
export interface ClassSummary {
  className: string
  counts: Counts
  spreads: Record<Measure, Spread>
  /** the hour of the horizon with the largest 95th percentile; null where there is no data */
  worstHours: Record<Measure, WorstHour | null>
}

/** The name under which a summary of all classes of a service goes. */
export const ALL_CLASSES = 'all classes'

/** Requests that arrive after the warm-up and before the end of the horizon. */
export function countedSelection(plan: Plan, classIndex: number): Selection {
  return { classIndex, fromSeconds: plan.horizon.warmupSeconds, untilSeconds: plan.horizon.seconds }
}

/** @param classIndex −1 for all classes of the run together */
export function summarise(plan: Plan, record: RunRecord, classIndex: number): ClassSummary {
  const selection = countedSelection(plan, classIndex)
  // Every measure is mapped.
  const each = <T>(of: (measure: Measure) => T) => Object.fromEntries(MEASURES.map((m) => [m, of(m)])) as Record<Measure, T>
  return {
    className: classIndex < 0 ? ALL_CLASSES : plan.classes[classIndex].name,
    counts: countOutcomes(record, selection),
    spreads: each((m) => spread(finishedValues(record, m, selection))),
    worstHours: each((m) => worstHour(record, m, selection)),
  }
}

/** @param sorted ascending */
export function spread(sorted: Float64Array): Spread {
  return {
    count: sorted.length,
    mean: mean(sorted),
    p50: percentile(sorted, 0.5),
    p90: percentile(sorted, 0.9),
    p95: percentile(sorted, 0.95),
    p99: percentile(sorted, 0.99),
    max: sorted[sorted.length - 1],
  }
}
