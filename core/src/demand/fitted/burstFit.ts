import { exp } from '../../arithmetic/sameBits.ts'
import type { Bursts } from '../../plan/schema.ts'
import type { RateCurve } from '../rate.ts'

/** Lengths of time over which counts are compared with pure chance. */
const SCALES_SECONDS = [1, 10, 60, 600] as const
/** A scale is looked at if the log has so many pieces of it. */
const LEAST_PIECES = 50
/** Gaps as even or uneven as this, and counts that differ no more than so, are taken as pure chance. */
const CHANCE_VARIATION = 0.1
const CHANCE_DISPERSION = 1.2
/** Bursts that are longer than gaps are there where counts of long pieces differ by so much more than the gaps say. */
const LASTING = 1.5
/** Share of the time in bursts, of which counts say nothing. */
const BURST_SHARE = 0.2
/** What a plan may say at the most. */
const LARGEST_VARIATION = 20
const MOST_FACTOR = 1000

/** How much more than by chance the counts of pieces of a length differ from the rate: 1 is a Poisson process. */
export interface Dispersion {
  seconds: number
  index: number
  /** what 95 of 100 Poisson processes stay below */
  chance: number
}

export interface BurstFit {
  /** coefficient of variation of the gaps, in time that runs as fast as the rate; 1 is a Poisson process */
  variation: number
  dispersion: Dispersion[]
  /** what a plan says for it; undefined where pure chance explains what was seen */
  bursts: Bursts | undefined
}

/**
 * How unevenly arrivals come around a rate.
 *
 * @param at ascending, seconds after the start
 * @param curve the rate that they are compared with
 */
export function fitBursts(at: Float64Array, curve: RateCurve): BurstFit {
  const area = areaUnder(curve)
  const variation = variationOfGaps(at, area)
  const dispersion = SCALES_SECONDS.filter((s) => curve.endSeconds / s >= LEAST_PIECES).map((s) =>
    dispersionAt(at, area, curve.endSeconds, s),
  )
  return { variation, dispersion, bursts: burstsOf(variation, dispersion, at.length / curve.endSeconds) }
}

/** Arrivals that are expected until a time; times have to be asked for in ascending order. */
function areaUnder({ from, rates, endSeconds }: RateCurve): () => (seconds: number) => number {
  return () => {
    let piece = 0
    let before = 0
    return (seconds) => {
      while (piece + 1 < from.length && from[piece + 1] <= seconds) {
        before += rates[piece] * (from[piece + 1] - from[piece])
        piece++
      }
      return before + (rates[piece] ?? 0) * (Math.min(seconds, endSeconds) - (from[piece] ?? 0))
    }
  }
}

function variationOfGaps(at: Float64Array, area: () => (seconds: number) => number): number {
  const until = area()
  let last = NaN
  let n = 0
  let sum = 0
  let squares = 0
  for (const t of at) {
    const now = until(t)
    const gap = now - last
    last = now
    if (Number.isNaN(gap)) continue
    n++
    sum += gap
    squares += gap * gap
  }
  return n < 2 || sum === 0 ? 1 : Math.sqrt(Math.max(0, (n * squares) / (sum * sum) - 1))
}

function dispersionAt(at: Float64Array, area: () => (seconds: number) => number, endSeconds: number, seconds: number): Dispersion {
  const until = area()
  const pieces = Math.floor(endSeconds / seconds)
  let i = 0
  let before = 0
  let squares = 0
  for (let p = 1; p <= pieces; p++) {
    let count = 0
    while (i < at.length && at[i] < p * seconds) {
      i++
      count++
    }
    const expected = until(p * seconds) - before
    before += expected
    squares += (count - expected) * (count - expected)
  }
  const mean = before / pieces
  return { seconds, index: before > 0 ? squares / before : 1, chance: 1 + 1.645 * Math.sqrt((2 + 1 / Math.max(mean, 1e-9)) / pieces) }
}

function burstsOf(variation: number, dispersion: readonly Dispersion[], ratePerSecond: number): Bursts | undefined {
  const longest = dispersion.at(-1)
  const isChance = (d: Dispersion) => d.index < CHANCE_DISPERSION || d.index < d.chance
  if (longest && !isChance(longest) && longest.index > LASTING * Math.max(1, variation * variation))
    return lastingBursts(dispersion, ratePerSecond)
  if (Math.abs(variation - 1) < CHANCE_VARIATION || (variation > 1 && dispersion.every(isChance))) return undefined
  return { kind: 'gamma', variation: threePlaces(Math.min(LARGEST_VARIATION, Math.max(0.05, variation))) }
}

/**
 * A two-state process with the dispersion that was seen: index(T) − 1 = 2·m·v·τ·(1 − τ/T·(1 − e^(−T/τ))), with m the mean rate, v the
 * squared variation of the rate and τ the time after which it forgets its state. Counts leave open how much of the time is burst.
 */
function lastingBursts(dispersion: readonly Dispersion[], ratePerSecond: number): Bursts {
  const shape = (t: number, tau: number) => 2 * ratePerSecond * tau * (1 - (tau / t) * (1 - exp(-t / tau)))
  let best = { error: Infinity, tau: 60, v: 1 }
  for (let step = 0; step <= 80; step++) {
    const tau = 0.5 * exp((step / 80) * 9)
    const weights = dispersion.map((d) => 1 / (d.index * d.index))
    const over = dispersion.reduce((s, d, i) => s + weights[i] * (d.index - 1) * shape(d.seconds, tau), 0)
    const under = dispersion.reduce((s, d, i) => s + weights[i] * shape(d.seconds, tau) * shape(d.seconds, tau), 0)
    const v = Math.max(0, over / under)
    const error = dispersion.reduce((s, d, i) => {
      const miss = d.index - 1 - v * shape(d.seconds, tau)
      return s + weights[i] * miss * miss
    }, 0)
    if (error < best.error) best = { error, tau, v }
  }
  const share = Math.min(BURST_SHARE, 1 / (1 + best.v))
  const burstSeconds = threePlaces(best.tau / (1 - share))
  const quietSeconds = threePlaces(best.tau / share)
  // No more than leaves something between bursts, as they are rounded.
  const factor = Math.min((burstSeconds + quietSeconds) / burstSeconds, MOST_FACTOR, 1 + Math.sqrt((best.v * (1 - share)) / share))
  return { kind: 'two-state', factor: Math.max(1.01, Math.floor(factor * 100) / 100), burstSeconds, quietSeconds }
}

const threePlaces = (x: number) => Number(x.toPrecision(3))
