import { grouped, price, probedTables, reasonWords, takenFor, type HowToAsk, type ProbeShape } from '@sandclock/core'
import type { ProbeRecord } from '@sandclock/outside'
import { table } from './table.ts'

const CUT: Record<NonNullable<ProbeRecord['cutShort']>, string> = {
  requests: 'the most requests that it may send (--most-requests) were sent',
  seconds: 'the longest that it may take (--most-time) was over',
  money: 'the most money that it may cost (--most-money) was spent',
  told: 'it was stopped',
}

/** What a measurement is told as: how fast, how long, and what it may be taken for. */
export function measuredText(how: HowToAsk, shape: ProbeShape, record: ProbeRecord): string {
  const { parts, cutShort, spent, rows } = record
  return [
    `${how.name ?? how.url}: ${grouped(rows.length, 0)} requests`,
    ...probedTables(parts).map(({ header, rows: figures }, i) => `${i > 0 ? '\n' : ''}${table(header, figures)}`),
    '',
    ...(cutShort ? [`It ended early: ${CUT[cutShort]}; what there is until then is told.`] : []),
    ...(spent !== undefined ? [`It cost ${price(spent, how.price?.currency ?? '')}.`] : []),
    ...reasonWords(rows),
    ...takenFor(shape.kind, parts),
  ].join('\n')
}
