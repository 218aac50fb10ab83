import { exp, ln } from '../arithmetic/sameBits.ts'
import type { Plan } from '../plan/schema.ts'
import type { Requests } from './requests.ts'

/** Sizes of one class as a histogram over bins of equal width on a logarithmic axis. */
export interface SizeHistogram {
  /** edges of the bins, one more than shares */
  edges: number[]
  /** share of requests in each bin; they add up to 1 unless the class is empty */
  shares: number[]
  median: number | null
  p95: number | null
}

/** The load of one class as it was drawn or read: what the simulation will see. */
export interface ClassPicture {
  name: string
  count: number
  /** arrivals per second in each piece of the horizon */
  rates: Float32Array
  peakPerSecond: number
  peakAtSeconds: number
  input: SizeHistogram
  /** null for fixed work */
  output: SizeHistogram | null
}

const BINS_PER_DECADE = 8
/** The logarithm of a power of ten may fall short of a whole number by rounding. */
const ROUNDING = 1e-9

/** The load of every class, cut into pieces of equal length. */
export function loadPicture(plan: Plan, requests: Requests, pieces: number): ClassPicture[] {
  const width = plan.horizon.seconds / pieces
  return plan.classes.map((requestClass, c) => {
    const rates = new Float32Array(pieces)
    const places: number[] = []
    for (let i = 0; i < requests.count; i++) {
      if (requests.classIndex[i] !== c) continue
      places.push(i)
      rates[Math.min(pieces - 1, Math.floor(requests.at[i] / width))] += 1 / width
    }
    const top = rates.reduce((best, r, i) => (r > rates[best] ? i : best), 0)
    return {
      name: requestClass.name,
      count: places.length,
      rates,
      peakPerSecond: rates[top] ?? 0,
      peakAtSeconds: top * width,
      input: histogram(places.map((i) => requests.input[i])),
      output: requestClass.work ? null : histogram(places.map((i) => requests.output[i])),
    }
  })
}

/** @param values whole numbers of at least 1 */
export function histogram(values: readonly number[]): SizeHistogram {
  if (values.length === 0) return { edges: [], shares: [], median: null, p95: null }
  const sorted = Float64Array.from(values).sort()
  const bin = (v: number) => Math.floor((ln(v) / Math.LN10) * BINS_PER_DECADE + ROUNDING)
  const first = bin(sorted[0])
  const last = bin(sorted[sorted.length - 1])
  const shares = new Array<number>(last - first + 1).fill(0)
  for (const v of sorted) shares[bin(v) - first] += 1 / sorted.length
  const edges = Array.from({ length: shares.length + 1 }, (_, i) => exp((Math.LN10 * (first + i)) / BINS_PER_DECADE))
  const at = (share: number) => sorted[Math.ceil(share * sorted.length - 1e-9) - 1]
  return { edges, shares, median: at(0.5), p95: at(0.95) }
}
