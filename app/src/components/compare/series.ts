import { valueAt, type StepSeries } from '@sandclock/core'
import type { PinnedRun } from '../../worker/runViews.ts'

/** What a row of the comparison shows over time, one value a piece. */
export interface CompareRow {
  name: string
  unit: string
  /** by run: one value for each piece; NaN where there is none */
  series: (readonly number[])[]
  /** a line that should not be crossed */
  limit?: number
  logarithmic: boolean
}

/** A run's step series at the middle of every piece. */
function atMiddles(series: StepSeries, pieces: number, horizonSeconds: number): number[] {
  return Array.from({ length: pieces }, (_, i) => valueAt(series, ((i + 0.5) * horizonSeconds) / pieces))
}

/** The rows of a comparison: one promise, who waits, replicas that are ready, and money. */
export function compareRows(runs: readonly PinnedRun[], reading: number, currency: string, horizonSeconds: number): CompareRow[] {
  const [first] = runs
  if (!first) return []
  const { pieces } = first.timeline
  const r = first.timeline.readings[reading]
  return [
    ...(r
      ? [
          {
            name: '',
            unit: 's',
            limit: r.limitSeconds,
            logarithmic: true,
            series: runs.map((run) => Array.from(run.timeline.readings[reading].values)),
          },
        ]
      : []),
    { name: 'waiting', unit: 'requests', logarithmic: false, series: runs.map((run) => Array.from(run.timeline.waiting)) },
    { name: 'ready', unit: 'replicas', logarithmic: false, series: runs.map((run) => atMiddles(run.ready, pieces, horizonSeconds)) },
    { name: 'money', unit: `${currency}/h`, logarithmic: false, series: runs.map((run) => atMiddles(run.paid, pieces, horizonSeconds)) },
  ]
}
