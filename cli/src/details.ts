import {
  copiesNeeded,
  copiesTable,
  detailTables,
  sparing,
  sparingTable,
  waitLeft,
  waitLeftTable,
  type Load,
  type Plan,
  type Seen,
} from '@sandclock/core'
import { table } from './table.ts'

/** What is behind a configuration, a table after the other; where callers find it cold, what it costs to spare them. */
export function detailsText(plan: Plan, load: Load, seen: Seen): string[] {
  const { candidate, groups } = seen
  const spec = { service: candidate.service, candidate, groups }
  const report = [...sparing(plan, spec, load)].at(-1)
  const copies = [...copiesNeeded(plan, spec, load)].at(-1)
  const left = waitLeft(plan, spec, load)
  const tables = [
    ...detailTables(plan, seen),
    ...(copies ? [copiesTable(copies, plan.currency)] : []),
    ...(left.after.length > 0 ? [waitLeftTable(left)] : []),
    ...(report && report.ways.length > 1 ? [sparingTable(report, plan.currency)] : []),
  ]
  return tables.map(({ title, header, rows }) => `${title}\n${table(header, rows)}`)
}
