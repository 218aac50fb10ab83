import { isCounter, type Series } from './series.ts'

/** What a metric may be for a plan. */
export const ROLES = {
  arrivals: 'requests that arrive',
  input: 'prompt tokens',
  output: 'answer tokens',
  'in-flight': 'requests in flight',
  replicas: 'replicas',
  latency: 'how long requests took',
} as const
export type Role = keyof typeof ROLES
/** The metric of each role, by its name; that of a histogram without its ending. */
export type Roles = Partial<Record<Role, string>>

/** A metric with what its series are. */
export interface Metric {
  name: string
  kind: 'counter' | 'gauge' | 'histogram'
  series: readonly Series[]
}

const HISTOGRAM = /_(bucket|sum|count)$/

/** The metrics of a history, histograms as one each. */
export function metricsOf(all: readonly Series[]): Metric[] {
  const histograms = new Set(all.filter((s) => s.name.endsWith('_bucket')).map((s) => s.name.replace(HISTOGRAM, '')))
  const byName = new Map<string, Series[]>()
  for (const s of all) {
    const base = s.name.replace(HISTOGRAM, '')
    const name = histograms.has(base) ? base : s.name
    byName.set(name, [...(byName.get(name) ?? []), s])
  }
  return [...byName].map(([name, series]) => ({
    name,
    kind: histograms.has(name) ? 'histogram' : isCounter(series[0]) ? 'counter' : 'gauge',
    series,
  }))
}

/** What names say, the first that fits: words of the trade, whoever wrote them. */
const GUESSES: readonly (readonly [Role, RegExp, readonly Metric['kind'][]])[] = [
  ['input', /(prompt|input|request).*token|token.*(prompt|input|_in(_|$))/i, ['counter', 'histogram']],
  ['output', /(generat|output|completion|answer|response).*token|token.*(generat|output|_out(_|$))/i, ['counter', 'histogram']],
  ['latency', /(duration|latency|elapsed)/i, ['histogram']],
  ['replicas', /(replica|instance|cop(y|ies)|pods?_|ready)/i, ['gauge']],
  ['in-flight', /(in_?flight|running|active|in_progress|concurren)/i, ['gauge']],
  ['arrivals', /(request|arrival|call|quer(y|ies))/i, ['counter', 'histogram', 'gauge']],
]

/** Which metric is what, by its name and its kind. */
export function guessRoles(metrics: readonly Metric[]): Roles {
  const roles: Roles = {}
  for (const { name, kind } of metrics) {
    const role = GUESSES.find(([, pattern, kinds]) => pattern.test(name) && kinds.includes(kind))?.[0]
    if (role) roles[role] ??= name
  }
  // The requests of a histogram of times or sizes are counted by it.
  const counted = roles.latency ?? roles.input
  if (roles.arrivals === undefined && counted !== undefined && metrics.some((m) => m.name === counted && m.kind === 'histogram'))
    roles.arrivals = counted
  return roles
}

/** Labels that say where something ran or how it ended, and not what it was. */
const OF_PLACES = new Set([
  'instance',
  'job',
  'pod',
  'node',
  'host',
  'container',
  'namespace',
  'le',
  'code',
  'status',
  'method',
  'replica',
  'zone',
  'region',
])
const MOST_CLASSES = 20

/** The label whose values are classes; undefined for none. */
export const guessClassLabel = (series: readonly Series[]): string | undefined => classLabels(series)[0]

/** Labels whose values may be classes: those of several values that do not say where, the fewest values first. */
export function classLabels(series: readonly Series[]): string[] {
  const values = new Map<string, Set<string>>()
  for (const { labels } of series)
    for (const [key, value] of Object.entries(labels)) if (!OF_PLACES.has(key)) values.set(key, (values.get(key) ?? new Set()).add(value))
  const several = [...values].filter(([, set]) => set.size > 1 && set.size <= MOST_CLASSES)
  return several.sort((a, b) => a[1].size - b[1].size).map(([label]) => label)
}
