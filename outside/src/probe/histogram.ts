import { Float64Histogram } from 'hdr-histogram-js'

/** Values from 1 µs to 24 h, each to three digits. */
const MOST_MICROSECONDS = 24 * 3600 * 1e6
const DIGITS = 3

/** How many times lie from one end of a bin up to, but not at, the other. */
export interface HistogramBin {
  fromSeconds: number
  untilSeconds: number
  count: number
}

/**
 * Times as a histogram of high dynamic range, whose bins are as narrow as three digits anywhere from 1 µs to 24 h; the empty ones are left
 * out.
 *
 * @param seconds NaN is left out; what is shorter or longer counts as the shortest, or the longest, that there is
 */
export function histogramOf(seconds: Iterable<number>): HistogramBin[] {
  const histogram = new Float64Histogram(1, MOST_MICROSECONDS, DIGITS)
  for (const s of seconds) if (!Number.isNaN(s)) histogram.recordValue(Math.min(MOST_MICROSECONDS, Math.max(1, Math.round(s * 1e6))))
  const bins: HistogramBin[] = []
  for (let i = 0; i < histogram.countsArrayLength; i++) {
    const count = histogram.getCountAtIndex(i)
    const from = histogram.valueFromIndex(i)
    if (count > 0) bins.push({ fromSeconds: from / 1e6, untilSeconds: histogram.nextNonEquivalentValue(from) / 1e6, count })
  }
  return bins
}
