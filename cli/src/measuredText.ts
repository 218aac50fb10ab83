import {
  endWords,
  grouped,
  idleShown,
  idleWords,
  probedTables,
  reasonWords,
  takenFor,
  type HowToAsk,
  type ProbeShape,
} from '@sandclock/core'
import type { ProbeRecord } from '@sandclock/outside'
import { table } from './table.ts'

/** What a measurement is told as: how fast, how long, and what it may be taken for. */
export function measuredText(how: HowToAsk, shape: ProbeShape, record: ProbeRecord): string {
  const { parts, cutShort, spent, rows } = record
  return [
    `${how.name ?? how.url}: ${grouped(rows.length, 0)} requests`,
    ...probedTables(parts).map(({ header, rows: figures }, i) => `${i > 0 ? '\n' : ''}${table(header, figures)}`),
    '',
    ...endWords(cutShort, spent, how.price?.currency ?? ''),
    ...idleWords(idleShown(rows)),
    ...reasonWords(rows),
    ...takenFor(shape.kind, parts),
  ].join('\n')
}
