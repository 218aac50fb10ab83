import type { Size } from '../plan/schema.ts'
import { normalQuantile } from '../random/normalQuantile.ts'
import type { RandomStream } from '../random/stream.ts'

/** A drawn size can be as large as this; larger ones would not fit the 32-bit arrays that hold them. */
const LARGEST_SIZE = 2_000_000_000
const Z95 = normalQuantile(0.95)

export type DrawnSize = Exclude<Size, { kind: 'log' }>

/**
 * Draws whole sizes of at least 1.
 *
 * lognormal: exp(N(ln median, σ)), σ = ln(p95 / median) / z₀.₉₅; exponential: −mean·ln U, rounded up;
 * empirical: each listed value equally often.
 */
export function drawSizes(size: DrawnSize, count: number, random: RandomStream): Int32Array {
  const out = new Int32Array(count)
  const draw = drawer(size, random)
  for (let i = 0; i < count; i++) out[i] = Math.min(LARGEST_SIZE, Math.max(1, draw()))
  return out
}

function drawer(size: DrawnSize, random: RandomStream): () => number {
  switch (size.kind) {
    case 'fixed':
      return () => size.value
    case 'exponential':
      return () => Math.ceil(-size.mean * Math.log(random.open()))
    case 'empirical':
      return () => size.values[Math.floor(random.next() * size.values.length)]
    case 'lognormal': {
      const sigma = lognormalSigma(size)
      const most = size.max ?? LARGEST_SIZE
      return () => Math.min(most, Math.round(size.median * Math.exp(sigma * normalQuantile(random.open()))))
    }
  }
}

/** σ of the logarithm, from median and 95th percentile. */
export function lognormalSigma(size: { median: number; p95: number }): number {
  return Math.log(size.p95 / size.median) / Z95
}
