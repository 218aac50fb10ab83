import { exp, ln } from '../arithmetic/sameBits.ts'
import type { GeneratedArrivals } from '../plan/arrivalKinds.ts'
import { weekPlace, type WeekPlace } from './calendar.ts'
import { fullHours, HOUR_SECONDS, rateKind } from './rateKinds.ts'

/** A piecewise constant rate: `rates[i]` per second from `from[i]` until `from[i + 1]` (or the end). */
export interface RateCurve {
  readonly from: Float64Array
  readonly rates: Float64Array
  readonly endSeconds: number
}

const MONTH_SECONDS = 730 * HOUR_SECONDS
/** Start of horizons that no calendar matters to. */
const ANY_MONDAY = '2027-03-01T00:00:00Z'

interface Span {
  from: number
  until: number
  factor: number
}

/**
 * The rate of a class over the horizon: its shape, growth, and spikes and events laid over it (where several overlap,
 * their factors multiply). Growth goes on by the hour, each hour at the value of its middle.
 *
 * @param loadFactor multiplies every rate; 1 is the plan as it stands
 * @param start date and time of the horizon's start, for weekly shapes and events
 * @example rateCurve({ kind: 'steady', ratePerSecond: 2 }, 100).rates // [2]
 */
export function rateCurve(arrivals: GeneratedArrivals, endSeconds: number, loadFactor = 1, start = ANY_MONDAY): RateCurve {
  const place = weekPlace(start)
  const spans = spansOf(arrivals, start)
  const from = Float64Array.from(breakpoints(arrivals, spans, place, endSeconds))
  const { rate } = rateKind(arrivals)
  const growth = ln(1 + (arrivals.growthPerMonth ?? 0)) / MONTH_SECONDS
  const rates = from.map((t, i) => {
    const middle = growth === 0 ? t : (t + (from[i + 1] ?? endSeconds)) / 2
    return loadFactor * rate(arrivals, place, t) * spanFactor(spans, t) * exp(growth * middle)
  })
  return { from, rates, endSeconds }
}

function spansOf(arrivals: GeneratedArrivals, start: string): Span[] {
  const zero = Date.parse(start) / 1000
  return [
    ...(arrivals.spikes ?? []).map((s) => ({ from: s.startSeconds, until: s.startSeconds + s.durationSeconds, factor: s.factor })),
    ...(arrivals.events ?? []).map((e) => ({
      from: Date.parse(e.from) / 1000 - zero,
      until: Date.parse(e.until) / 1000 - zero,
      factor: e.factor,
    })),
  ]
}

function breakpoints(arrivals: GeneratedArrivals, spans: readonly Span[], place: WeekPlace, endSeconds: number): number[] {
  const points = new Set<number>([0])
  for (const t of rateKind(arrivals).changes(place, endSeconds)) points.add(t)
  if (arrivals.growthPerMonth) for (const t of fullHours(endSeconds)) points.add(t)
  for (const { from, until } of spans) {
    points.add(from)
    points.add(until)
  }
  return [...points].filter((t) => t >= 0 && t < endSeconds).sort((a, b) => a - b)
}

function spanFactor(spans: readonly Span[], t: number): number {
  return spans.reduce((f, s) => (t >= s.from && t < s.until ? f * s.factor : f), 1)
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

/**
 * Requests a second at a time of the horizon. A piece has its first instant and not its last.
 *
 * @param seconds from 0 until the end of the curve; earlier ones, NaN too, have the rate of the first piece, later ones that of the last
 * @returns 0 of a curve without pieces
 * @example rateAt(rateCurve({ kind: 'hourly', ratesPerSecond: [1, 3] }, 7200), 3600) // 3
 */
export function rateAt(curve: RateCurve, seconds: number): number {
  let low = 0
  let high = curve.from.length
  while (high - low > 1) {
    const middle = (low + high) >> 1
    if (curve.from[middle] <= seconds) low = middle
    else high = middle
  }
  return curve.rates[low] ?? 0
}
