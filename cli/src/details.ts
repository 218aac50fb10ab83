import { detailTables, type Plan, type Seen } from '@sandclock/core'
import { table } from './table.ts'

/** What is behind a configuration, a table after the other. */
export function detailsText(plan: Plan, seen: Seen): string[] {
  return detailTables(plan, seen).map(({ title, header, rows }) => `${title}\n${table(header, rows)}`)
}
