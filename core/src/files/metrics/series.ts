/** What one set of labels of a metric showed over time. */
export interface Series {
  /** empty where what was asked for was an expression */
  name: string
  labels: Readonly<Record<string, string>>
  /** ascending, seconds since 1970-01-01T00:00Z */
  at: Float64Array
  values: Float64Array
}

/** Puts samples in order; of several at one time the last one stands. */
export function seriesOf(name: string, labels: Record<string, string>, samples: readonly (readonly [number, number])[]): Series {
  const byTime = new Map(samples)
  const times = [...byTime.keys()].sort((a, b) => a - b)
  return { name, labels, at: Float64Array.from(times), values: Float64Array.from(times, (t) => byTime.get(t) ?? NaN) }
}

/** The name of what counters and histograms count, as the open metrics format ends it. */
const COUNTS = /_(total|count|sum|bucket|created)$/

/** Whether a series only ever grows, but for restarts: what it counted between two samples is what matters. */
export const isCounter = ({ name }: Pick<Series, 'name'>): boolean => COUNTS.test(name)
