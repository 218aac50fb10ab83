import {
  allDistributions,
  CORE_VERSION,
  duration,
  limitWords,
  MEASURE_NAMES,
  measureWords,
  parseStretch,
  percent,
  type Distribution,
  type Plan,
  type RunRecord,
  type Stretch,
} from '@sandclock/core'
import { refusing } from './refusing.ts'
import { table } from './table.ts'
import { writeJson } from './writePieces.ts'

/** What a command that simulates may be asked about how long each request took. */
export interface DistributionOptions {
  /** true: as text; a file: its bins as JSON */
  distributions?: string | true
  within?: string
}

const refused = refusing('How long each request took can not be told.')
/** Bins that one line of text stands for: five lines to each power of ten. */
const BINS_A_LINE = 4
const BAR = 40

/**
 * How long each request took: as text after what is printed, or as bins in a file.
 *
 * @param records of the services that were run
 * @returns what is to be printed, a block a class and measure
 */
export async function toldDistributions(
  plan: Plan,
  records: ReadonlyMap<string, RunRecord>,
  { distributions: wanted, within }: DistributionOptions,
): Promise<string[]> {
  if (wanted === undefined) return []
  const stretch = stretchOf(plan, within)
  const services = [...records].map(([service, record]) => ({ service, distributions: allDistributions(plan, record, service, stretch) }))
  if (wanted === true) return services.flatMap((s) => s.distributions.map((d) => distributionText(plan, s.service, d)))
  await writeJson(wanted, { format: 'sand-clock-distributions', version: 1, coreVersion: CORE_VERSION, within: stretch ?? null, services })
  return []
}

/** @throws BadInput for options that can not be used, before anything is simulated */
export function checkDistributions(plan: Plan, { distributions, within }: DistributionOptions, json: boolean): void {
  if (within !== undefined && distributions === undefined)
    throw refused('--within', 'is about --distributions; add that, or leave this out')
  if (distributions === true && json)
    throw refused('--distributions', 'is text of its own; beside --json or --explain name a file, and it has the bins')
  stretchOf(plan, within)
}

function stretchOf(plan: Plan, text: string | undefined): Stretch | undefined {
  if (text === undefined) return undefined
  const { start, seconds, warmupSeconds } = plan.horizon
  const stretch = parseStretch(text, start)
  if (!stretch) throw refused('--within', 'must be two times with "to" between, such as "Mon 08:00 to Mon 12:00" or "1 h to 2 h"', text)
  if (stretch.fromSeconds >= seconds) throw refused('--within', `begins after the ${duration(seconds)} that are simulated`, text)
  if (stretch.untilSeconds <= warmupSeconds)
    throw refused('--within', `is all within the warm-up of ${duration(warmupSeconds)}, of which nothing counts`, text)
  return stretch
}

function distributionText(plan: Plan, service: string, { className, measure, spread, belowFirst, lost, bins }: Distribution): string {
  const promises = plan.classes
    .filter((c) => c.name === className)
    .flatMap((c) => c.targets)
    .flatMap((t) => (t.measure === measure ? [{ seconds: t.seconds, words: `promised: ${measureWords(t)} ${limitWords(t)}` }] : []))
  const marks = [
    ...(['p50', 'p90', 'p95', 'p99'] as const).flatMap((p) => (spread[p] === undefined ? [] : [{ seconds: spread[p], words: p }])),
    ...promises,
  ]
  const lines = inLines(bins).map((of) => ({
    from: of[0].fromSeconds,
    until: of[of.length - 1].untilSeconds,
    requests: of.reduce((sum, b) => sum + b.requests, 0),
  }))
  const most = Math.max(1, ...lines.map((l) => l.requests))
  const rows = lines.map((l, i) => [
    `${duration(l.from)} to ${duration(l.until)}`,
    percent(l.requests / spread.count),
    '▇'.repeat(Math.ceil((BAR * l.requests) / most)),
    // What lies outside of all lines is marked at the nearest.
    marks
      .filter((m) => (m.seconds >= l.from || i === 0) && (m.seconds < l.until || i === lines.length - 1))
      .map((m) => m.words)
      .join(', '),
  ])
  const none = belowFirst > 0 ? `, ${percent(belowFirst / spread.count)} below 10 µs` : ''
  return [
    `${MEASURE_NAMES[measure].toUpperCase()} of ${className} at ${service}: ${spread.count} requests${none}, ${lost} lost`,
    ...(rows.length > 0 ? [table(['', 'share', '', ''], rows)] : ['no data']),
  ].join('\n')
}

/** Bins by lines whose edges are five to each power of ten, whichever bin is the first. */
function inLines(bins: Distribution['bins']): Distribution['bins'][] {
  const lines: Distribution['bins'][] = []
  for (const b of bins) {
    const number = Math.round(Math.log10(b.fromSeconds) * 5 * BINS_A_LINE)
    if (lines.length === 0 || number % BINS_A_LINE === 0) lines.push([])
    lines[lines.length - 1].push(b)
  }
  return lines
}
