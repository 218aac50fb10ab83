import { isFromLog } from '../../plan/arrivalKinds.ts'
import { BadInput, shown } from '../../plan/problem.ts'
import type { Plan } from '../../plan/schema.ts'
import { countByClass, ofClasses, type Bytes } from '../requests.ts'
import type { RequestLog } from './requestLog.ts'

/** A log whose classes are those of the plan, and what was left out on the way. */
export interface MatchedLog {
  log: RequestLog
  /** classes of the log that the plan does not know, with their number of rows */
  unknown: { name: string; rows: number }[]
}

const same = (a: string, b: string) => a.trim().toLowerCase() === b.trim().toLowerCase()

/**
 * Points the log's class indices at the plan's classes, by name without regard to case. A log without classes
 * belongs to the first class that takes its load from a log, or to the only class of the plan.
 *
 * @param bytes where to put its requests; see `emptyRequests`
 * @throws BadInput when no row belongs to any class of the plan
 */
export function matchLog(plan: Plan, log: RequestLog, bytes: Bytes = ArrayBuffer): MatchedLog {
  const target = log.classNames.map((name) => (name === '' ? unnamedClass(plan) : plan.classes.findIndex((c) => same(c.name, name))))
  const rows = countByClass(log.requests, log.classNames.length)
  const unknown = log.classNames.map((name, i) => ({ name, rows: rows[i] })).filter((_, i) => target[i] < 0)
  const kept = ofClasses(
    log.requests,
    target.map((t) => t >= 0),
    bytes,
  )
  if (kept.count === 0) {
    const names = plan.classes.map((c) => shown(c.name)).join(', ')
    throw new BadInput(`${log.name} has no request of a class of this plan.`, [
      {
        path: log.columns.names.class ?? 'class',
        found: log.classNames
          .map((n) => shown(n))
          .join(', ')
          .slice(0, 120),
        rule: `must be one of ${names}`,
      },
    ])
  }
  for (let i = 0; i < kept.count; i++) kept.classIndex[i] = target[kept.classIndex[i]]
  return { log: { ...log, requests: kept, classNames: plan.classes.map((c) => c.name) }, unknown }
}

function unnamedClass(plan: Plan): number {
  const fromLog = plan.classes.findIndex((c) => isFromLog(c.arrivals))
  return fromLog >= 0 ? fromLog : 0
}

/**
 * The plan with its load replaced by a log: every class that the log has takes arrivals and sizes from it, the
 * others stay out, and the horizon ends a second after the last arrival.
 */
export function withLogLoad(plan: Plan, matched: RequestLog): Plan {
  const { requests } = matched
  const present = new Set(requests.classIndex)
  const seconds = Math.ceil(requests.at[requests.count - 1]) + 1
  const start = matched.isCalendar ? new Date(matched.startSeconds * 1000).toISOString() : plan.horizon.start
  const classes = plan.classes
    .filter((_, i) => present.has(i))
    .map((c) => ({ ...c, arrivals: { kind: 'log' as const }, ...(c.work ? { work: LOG } : { input: LOG, output: LOG }) }))
  const services = plan.services.filter((s) => classes.some((c) => c.service === s.name))
  const warmupSeconds = Math.min(plan.horizon.warmupSeconds, seconds / 2)
  return {
    ...plan,
    horizon: { start, seconds, warmupSeconds },
    classes,
    services,
    log: matched.files.length === 1 ? matched.files[0] : matched.files,
  }
}

const LOG = { kind: 'log' as const }

export interface ReplacedLoad extends MatchedLog {
  plan: Plan
  /** classes of the plan that the log has no row of */
  absent: string[]
}

/** Replaces the load of a plan by a log and matches the log to what is left of the plan; `absent` are classes without a row. */
export function replaceLoad(plan: Plan, log: RequestLog, bytes: Bytes = ArrayBuffer): ReplacedLoad {
  const first = matchLog(plan, log)
  const replaced = withLogLoad(plan, first.log)
  const absent = plan.classes.map((c) => c.name).filter((name) => !replaced.classes.some((c) => c.name === name))
  return { plan: replaced, log: matchLog(replaced, log, bytes).log, unknown: first.unknown, absent }
}

/** What a person should know of rows and classes that stayed out, a sentence each. */
export function leftOutWords({
  unknown,
  absent,
}: {
  unknown: readonly { name: string; rows: number }[]
  absent: readonly string[]
}): string[] {
  return [
    ...unknown.map((u) => `${u.rows} ${u.rows === 1 ? 'row' : 'rows'} of class "${u.name}" stayed out: the plan has no such class.`),
    ...absent.map((name) => `Class "${name}" stayed out, and its service if it has no other: the log has no request of it.`),
  ]
}
