import {
  bare,
  duration,
  grouped,
  percent,
  price,
  takenFor,
  threeDigits,
  type HowToAsk,
  type PartSummary,
  type ProbedPercentiles,
  type ProbeShape,
} from '@sandclock/core'
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
  const lost = rows.filter((r) => r.outcome !== 'finished' && r.outcome !== 'stopped')
  const reasons = [...new Set(lost.map((r) => `${r.outcome}${r.status > 0 ? ` (${r.status})` : ''}${r.why === '' ? '' : `: ${r.why}`}`))]
  return [
    `${how.name ?? how.url}: ${grouped(rows.length, 0)} requests`,
    table(['', 'requests', 'finished', 'a second', 'tokens/s of one', 'of all', 'sent late, p95'], parts.map(row)),
    ...MEASURES.filter(([, of]) => parts.some((p) => of(p).p50)).map(
      ([name, of]) =>
        `\n${table(
          [name, 'p50', 'p95', 'p99'],
          parts.map((p) => [p.part, ...cells(of(p))]),
        )}`,
    ),
    '',
    ...(cutShort ? [`It ended early: ${CUT[cutShort]}; what there is until then is told.`] : []),
    ...(spent !== undefined ? [`It cost ${price(spent, how.price?.currency ?? '')}.`] : []),
    ...reasons.slice(0, 5).map((r) => `did not finish: ${r}`),
    ...takenFor(shape.kind, parts),
  ].join('\n')
}

function row(p: PartSummary): string[] {
  const finished = p.outcomes.finished ?? 0
  return [
    `${p.part}${p.warmUp ? ', not counted' : ''}${p.isVoid ? ', VOID' : ''}`,
    grouped(p.requests, 0),
    percent(p.requests > 0 ? finished / p.requests : 0),
    number(p.perSecond),
    number(p.tokensOfOne),
    number(p.tokensOfAll),
    duration(p.late.p95?.value),
  ]
}

const MEASURES: [string, (p: PartSummary) => ProbedPercentiles][] = [
  ['TTFT (and where it lies with 95 %)', (p) => p.firstToken],
  ['gaps between tokens', (p) => p.gap],
  ['latency', (p) => p.latency],
]

const number = (value: number) => (Number.isNaN(value) ? '–' : bare(threeDigits(value)))

/** Percentiles with their intervals, as far as one is known. */
function cells(of: ProbedPercentiles): string[] {
  return [of.p50, of.p95, of.p99].map((found) => {
    if (!found) return '–'
    const { value, low, high } = found
    if (low === undefined && high === undefined) return duration(value)
    return `${duration(value)} (${low === undefined ? '' : duration(low)} … ${high === undefined ? '' : duration(high)})`
  })
}
