import type { GeneratedArrivals } from '../plan/arrivalKinds.ts'
import { clockHours, dayAndHour, type WeekPlace } from './calendar.ts'

export const HOUR_SECONDS = 3600

/** What the rate of a kind of arrivals is, before growth, spikes and events. */
interface RateKind<A> {
  /** per second, at a time of the horizon */
  rate: (arrivals: A, place: WeekPlace, seconds: number) => number
  /** times in the horizon at which it may change */
  changes: (place: WeekPlace, endSeconds: number) => readonly number[]
  /** the same with each rate as another */
  withRates: (arrivals: A, rate: (perSecond: number) => number) => A
}

const RATE_KINDS: { [K in GeneratedArrivals['kind']]: RateKind<Extract<GeneratedArrivals, { kind: K }>> } = {
  steady: { rate: (a) => a.ratePerSecond, changes: () => [], withRates: (a, rate) => ({ ...a, ratePerSecond: rate(a.ratePerSecond) }) },
  weekly: {
    rate: (a, place, seconds) => {
      const { day, hour } = dayAndHour(place, seconds)
      return a.ratePerSecond * a.days[day] * a.hours[hour]
    },
    changes: clockHours,
    withRates: (a, rate) => ({ ...a, ratePerSecond: rate(a.ratePerSecond) }),
  },
  hourly: {
    rate: (a, _, seconds) => a.ratesPerSecond[Math.floor(seconds / HOUR_SECONDS) % a.ratesPerSecond.length],
    changes: (_, endSeconds) => fullHours(endSeconds),
    withRates: (a, rate) => ({ ...a, ratesPerSecond: a.ratesPerSecond.map(rate) }),
  },
}

/** Hours of the horizon that begin after its start and before its end, in seconds. */
export function fullHours(endSeconds: number): number[] {
  return Array.from({ length: Math.max(0, Math.ceil(endSeconds / HOUR_SECONDS) - 1) }, (_, i) => (i + 1) * HOUR_SECONDS)
}

/** The table's entry, for arrivals of whatever kind they are. */
export function rateKind(arrivals: GeneratedArrivals): RateKind<GeneratedArrivals> {
  return RATE_KINDS[arrivals.kind] as unknown as RateKind<GeneratedArrivals> // that of this very kind
}
