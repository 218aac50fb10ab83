import { exp, ln } from '../arithmetic/sameBits.ts'
import type { Size } from '../plan/schema.ts'
import { normalCdf } from '../random/normalCdf.ts'
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
  if (size.kind === 'lognormal') fillLognormal(out, size, random)
  else {
    const draw = drawer(size, random)
    for (let i = 0; i < count; i++) out[i] = whole(draw())
  }
  return out
}

/** What most sizes are: in a loop of its own, since a draw through a function that returns a float64 makes an object of it. */
function fillLognormal(out: Int32Array, size: Extract<DrawnSize, { kind: 'lognormal' }>, random: RandomStream): void {
  const sigma = lognormalSigma(size)
  const { median } = size
  const most = Math.min(LARGEST_SIZE, size.max ?? LARGEST_SIZE)
  for (let i = 0; i < out.length; i++) {
    const drawn = Math.round(median * exp(sigma * normalQuantile(random.open())))
    out[i] = drawn < 1 ? 1 : drawn > most ? most : drawn
  }
}

function drawer(size: Exclude<DrawnSize, { kind: 'lognormal' }>, random: RandomStream): () => number {
  switch (size.kind) {
    case 'fixed':
      return () => size.value
    case 'exponential':
      return () => Math.ceil(-size.mean * ln(random.open()))
    case 'empirical':
      return () => size.values[Math.floor(random.next() * size.values.length)]
  }
}

/** σ of the logarithm, from median and 95th percentile. */
export function lognormalSigma(size: { median: number; p95: number }): number {
  return ln(size.p95 / size.median) / Z95
}

/**
 * Draws pairs of sizes whose normal scores have the given correlation (a Gaussian copula): each has its own
 * distribution, and above 0 large ones tend to come together.
 *
 * @param correlation in (−1, 1)
 */
export function drawPairs(
  first: DrawnSize,
  second: DrawnSize,
  correlation: number,
  count: number,
  randomFirst: RandomStream,
  randomSecond: RandomStream,
): [Int32Array, Int32Array] {
  const a = new Int32Array(count)
  const b = new Int32Array(count)
  const firstAt = atScore(first)
  const secondAt = atScore(second)
  const rest = Math.sqrt(1 - correlation * correlation)
  for (let i = 0; i < count; i++) {
    const z = normalQuantile(randomFirst.open())
    a[i] = whole(firstAt(z))
    b[i] = whole(secondAt(correlation * z + rest * normalQuantile(randomSecond.open())))
  }
  return [a, b]
}

const whole = (size: number) => Math.min(LARGEST_SIZE, Math.max(1, size))

/** The size at a normal score: the quantile at its probability. */
function atScore(size: DrawnSize): (z: number) => number {
  switch (size.kind) {
    case 'fixed':
      return () => size.value
    case 'exponential':
      return (z) => Math.ceil(-size.mean * ln(normalCdf(-z)))
    case 'empirical': {
      const sorted = Int32Array.from(size.values).sort()
      return (z) => sorted[Math.min(sorted.length - 1, Math.floor(normalCdf(z) * sorted.length))]
    }
    case 'lognormal': {
      const sigma = lognormalSigma(size)
      const most = size.max ?? LARGEST_SIZE
      return (z) => Math.min(most, Math.round(size.median * exp(sigma * z)))
    }
  }
}
