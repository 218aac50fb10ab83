import type { Arrivals, Spike } from '../plan/schema.ts'

/** A piecewise constant rate: `rates[i]` per second from `from[i]` until `from[i + 1]` (or the end). */
export interface RateCurve {
  readonly from: Float64Array
  readonly rates: Float64Array
  readonly endSeconds: number
}

const HOUR_SECONDS = 3600

/**
 * The rate of a class over the horizon, spikes laid over it (where several overlap, their factors multiply).
 *
 * @param loadFactor multiplies every rate; 1 is the plan as it stands
 * @example rateCurve({ kind: 'steady', ratePerSecond: 2 }, 100).rates // [2]
 */
export function rateCurve(arrivals: Exclude<Arrivals, { kind: 'log' }>, endSeconds: number, loadFactor = 1): RateCurve {
  const spikes = arrivals.spikes ?? []
  const from = Float64Array.from(breakpoints(arrivals, spikes, endSeconds))
  const rates = from.map((t) => loadFactor * baseRate(arrivals, t) * spikeFactor(spikes, t))
  return { from, rates, endSeconds }
}

function breakpoints(arrivals: Exclude<Arrivals, { kind: 'log' }>, spikes: readonly Spike[], endSeconds: number): number[] {
  const points = new Set<number>([0])
  if (arrivals.kind === 'hourly') for (let t = HOUR_SECONDS; t < endSeconds; t += HOUR_SECONDS) points.add(t)
  for (const spike of spikes) {
    points.add(spike.startSeconds)
    points.add(spike.startSeconds + spike.durationSeconds)
  }
  return [...points].filter((t) => t < endSeconds).sort((a, b) => a - b)
}

function baseRate(arrivals: Exclude<Arrivals, { kind: 'log' }>, t: number): number {
  if (arrivals.kind === 'steady') return arrivals.ratePerSecond
  return arrivals.ratesPerSecond[Math.floor(t / HOUR_SECONDS) % arrivals.ratesPerSecond.length]
}

function spikeFactor(spikes: readonly Spike[], t: number): number {
  return spikes.reduce((f, s) => (t >= s.startSeconds && t < s.startSeconds + s.durationSeconds ? f * s.factor : f), 1)
}

/** Expected number of arrivals over the whole curve. */
export function expectedCount(curve: RateCurve): number {
  let sum = 0
  for (let i = 0; i < curve.from.length; i++) {
    sum += curve.rates[i] * ((curve.from[i + 1] ?? curve.endSeconds) - curve.from[i])
  }
  return sum
}

/** Largest rate of the curve, per second, and when it begins. */
export function peak(curve: RateCurve): { ratePerSecond: number; atSeconds: number } {
  let best = 0
  for (let i = 1; i < curve.rates.length; i++) if (curve.rates[i] > curve.rates[best]) best = i
  return { ratePerSecond: curve.rates[best], atSeconds: curve.from[best] }
}
