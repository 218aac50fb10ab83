import { duration } from '../units/duration.ts'
import { bare, grouped, percent, threeDigits } from '../units/number.ts'
import type { PartSummary, ProbedPercentiles } from './summary.ts'

/** Exact figures, as the command line and the application lay them out. */
export interface ProbedTable {
  header: string[]
  rows: string[][]
}

const MEASURES: [string, (p: PartSummary) => ProbedPercentiles][] = [
  ['TTFT (and where it lies with 95 %)', (p) => p.firstToken],
  ['gaps between tokens', (p) => p.gap],
  ['latency', (p) => p.latency],
]

/** How many, how fast and how late, a row for each part; and percentiles of those measures that were seen, a table for each. */
export function probedTables(parts: readonly PartSummary[]): ProbedTable[] {
  return [
    { header: ['', 'requests', 'finished', 'a second', 'tokens/s of one', 'of all', 'sent late, p95'], rows: parts.map(row) },
    ...MEASURES.filter(([, of]) => parts.some((p) => of(p).p50)).map(([name, of]): ProbedTable => ({
      header: [name, 'p50', 'p95', 'p99'],
      rows: parts.map((p) => [p.part, ...cells(of(p))]),
    })),
  ]
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
