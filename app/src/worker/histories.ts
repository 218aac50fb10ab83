import { classLabels, fitHistory, guessRoles, readHistory, sentence, type HistoryFit, type Metric, type Roles } from '@sandclock/core'

/** What was found in a metrics history, as far as a page shows it. */
export interface HistoryRead {
  metrics: { name: string; kind: Metric['kind']; series: number }[]
  /** labels whose values may be classes */
  labels: string[]
  roles: Roles
  problems: string[]
}

/** The history that is looked at: it is large, and stays here while somebody says what is what. */
let metrics: readonly Metric[] = []

/** @throws BadInput for what is no history */
export function openHistory(files: readonly { name: string; text: string }[]): HistoryRead {
  const read = readHistory(files)
  metrics = read.metrics
  const roles = guessRoles(metrics)
  return {
    metrics: metrics.map(({ name, kind, series }) => ({ name, kind, series: series.length })),
    labels: classLabels(metrics.flatMap((m) => m.series)),
    roles,
    problems: read.problems.map(sentence),
  }
}

/** What the history that was opened last is like. @param by label of the classes, null for none, undefined for a guess */
export const describeHistory = (roles: Roles, by: string | null | undefined): HistoryFit => fitHistory(metrics, roles, by)
