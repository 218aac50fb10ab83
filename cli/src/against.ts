import {
  describes,
  driftOf,
  driftOfHistory,
  driftTable,
  driftWords,
  historyStart,
  type Drift,
  type Load,
  type Plan,
  type Service,
} from '@sandclock/core'
import { historyTexts, metricsAndRoles } from './histories.ts'
import { readLog } from './input.ts'
import { refusing } from './refusing.ts'
import { table } from './table.ts'

export const refused = refusing('This can not be laid beside the plan.')

/** Lays what happened beside a plan: a text for each service that states a configuration, and whether the plan describes it. */
export type Beside = (plan: Plan, load: Load, tolerance: number) => { text: string; describes: boolean }[]

/** A log that says how long each request took, or a metrics history that counts them and their time. */
export async function happenedIn(files: readonly string[], options: { columns?: string; metrics?: string }): Promise<Beside> {
  const texts = await historyTexts(files)
  if (texts) {
    if (options.columns !== undefined) throw refused('--columns', 'is about a log, and --against is a metrics history; say --metrics')
    const history = metricsAndRoles(texts, options.metrics, refused)
    return (plan, load, tolerance) =>
      textsOf(
        plan,
        (service) => driftOfHistory(plan, service, history, load, tolerance),
        () => new Date(1000 * historyStart(history.metrics, history.roles)).toISOString(),
      )
  }
  if (options.metrics !== undefined) throw refused('--metrics', 'is about a metrics history, and --against is a log; say --columns')
  const log = await readLog(files, options.columns)
  if (!log.columns.names.duration)
    throw refused(
      `--against ${files.join(', ')}`,
      'does not say how long each request took; a column such as latency or duration is needed (name it with --columns)',
    )
  return (plan, load, tolerance) =>
    textsOf(
      plan,
      (service) => driftOf(plan, service, log, load, tolerance),
      () => (log.isCalendar ? new Date(log.startSeconds * 1000).toISOString() : plan.horizon.start),
    )
}

function textsOf(plan: Plan, driftOfService: (service: Service) => Drift | undefined, startOf: () => string): ReturnType<Beside> {
  const drifts = plan.services.flatMap((s) => (s.configuration ? (driftOfService(s) ?? []) : []))
  if (drifts.length === 0) throw refused('--against', 'has no request of a service that states a configuration and says how long it took')
  const start = startOf()
  return drifts.map((drift) => {
    const { header, rows } = driftTable(drift, start)
    const figures = rows.length > 0 ? [table(header, rows)] : []
    return { text: ['', ...figures, ...driftWords(drift, start)].join('\n'), describes: describes(drift) }
  })
}
