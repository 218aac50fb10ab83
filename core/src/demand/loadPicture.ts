import { exp, ln } from '../arithmetic/sameBits.ts'
import type { Plan } from '../plan/schema.ts'
import { firstNotBelow } from '../units/ascending.ts'
import { countByClass, type Requests } from './requests.ts'

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
  const counts = countByClass(requests, plan.classes.length)
  const inputs = plan.classes.map((_, c) => new Int32Array(counts[c]))
  const outputs = plan.classes.map((_, c) => new Int32Array(counts[c]))
  const rates = plan.classes.map(() => new Float32Array(pieces))
  const seen = new Int32Array(plan.classes.length)
  for (let i = 0; i < requests.count; i++) {
    const c = requests.classIndex[i]
    inputs[c][seen[c]] = requests.input[i]
    outputs[c][seen[c]++] = requests.output[i]
    rates[c][Math.min(pieces - 1, Math.floor(requests.at[i] / width))] += 1 / width
  }
  return plan.classes.map(({ name, work }, c) => {
    const top = rates[c].reduce((best, r, i) => (r > rates[c][best] ? i : best), 0)
    return {
      name,
      count: counts[c],
      rates: rates[c],
      peakPerSecond: rates[c][top] ?? 0,
      peakAtSeconds: top * width,
      input: histogram(inputs[c]),
      output: work ? null : histogram(outputs[c]),
    }
  })
}

/** @param values whole numbers of at least 1, in any order; they are put in order in place */
export function histogram(values: Int32Array | Float64Array): SizeHistogram {
  const count = values.length
  if (count === 0) return { edges: [], shares: [], median: null, p95: null }
  const sorted = values.sort()
  const bin = (v: number) => Math.floor((ln(v) / Math.LN10) * BINS_PER_DECADE + ROUNDING)
  const first = bin(sorted[0])
  const shares = new Array<number>(bin(sorted[count - 1]) - first + 1).fill(0)
  // Once for all that are equal: there are far fewer sizes than requests.
  for (let i = 0, next = 0; i < count; i = next) {
    next = firstNotBelow(sorted, sorted[i] + 1)
    shares[bin(sorted[i]) - first] += (next - i) / count
  }
  const edges = Array.from({ length: shares.length + 1 }, (_, i) => exp((Math.LN10 * (first + i)) / BINS_PER_DECADE))
  const at = (share: number) => sorted[Math.ceil(share * count - 1e-9) - 1]
  return { edges, shares, median: at(0.5), p95: at(0.95) }
}
