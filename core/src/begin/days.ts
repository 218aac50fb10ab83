import type { GeneratedArrivals } from '../plan/schema.ts'

/** How a kind of day goes: shares of its busiest hour, 0…1. */
interface DayKind {
  words: string
  arrivals: (ratePerSecond: number) => GeneratedArrivals
}

const WEEK_HOURS = 168
const TIDE_HOURS = 12 + 25 / 60
const FIRST_HIGH_WATER_HOUR = 4.5
/** An hour at low water has this share of one at high water; a tide rises and falls over three hours. */
const LOW_WATER = 0.05
const TIDE_RISES_HOURS = 3

const weekly =
  (days: readonly number[], hours: readonly number[]) =>
  (ratePerSecond: number): GeneratedArrivals => ({ kind: 'weekly', ratePerSecond, days: [...days], hours: [...hours] })

/** Share of high water in the middle of an hour, which comes 50 minutes later every day. */
function tide(hour: number): number {
  const phase = (((hour + 0.5 - FIRST_HIGH_WATER_HOUR) % TIDE_HOURS) + TIDE_HOURS) % TIDE_HOURS
  const away = Math.min(phase, TIDE_HOURS - phase)
  return LOW_WATER + (1 - LOW_WATER) * Math.max(0, 1 - away / TIDE_RISES_HOURS)
}

function tides(ratePerSecond: number): GeneratedArrivals {
  const shares = Array.from({ length: WEEK_HOURS }, (_, hour) => tide(hour))
  const most = Math.max(...shares)
  return { kind: 'hourly', ratesPerSecond: shares.map((share) => Number(((ratePerSecond * share) / most).toPrecision(6))) }
}

const NIGHT = 0.03
const office = [
  ...Array.from({ length: 6 }, () => NIGHT),
  0.08,
  0.3,
  0.65,
  0.9,
  1,
  0.95,
  0.7,
  0.85,
  0.95,
  0.9,
  0.75,
  0.5,
  0.25,
  0.15,
  0.1,
  0.06,
  NIGHT,
  NIGHT,
]
const evening = [
  0.3, 0.15, 0.08, 0.05, 0.04, 0.05, 0.1, 0.2, 0.3, 0.35, 0.35, 0.4, 0.45, 0.4, 0.4, 0.45, 0.5, 0.6, 0.75, 0.9, 1, 1, 0.8, 0.5,
]
const night = Array.from({ length: 24 }, (_, hour) => (hour >= 22 || hour < 5 ? 1 : 0))
const WORKING_WEEK = [1, 1, 1, 1, 0.95, 0.2, 0.15]
const EVERY_DAY = [1, 1, 1, 1, 1, 1, 1]

/** Kinds of days that a plan may be begun with, by the clock of its start. */
export const DAYS = {
  office: { words: 'an office day', arrivals: weekly(WORKING_WEEK, office) },
  evening: { words: 'an evening', arrivals: weekly([0.8, 0.8, 0.85, 0.9, 1, 1, 0.95], evening) },
  even: { words: 'day and night alike', arrivals: (ratePerSecond) => ({ kind: 'steady', ratePerSecond }) },
  night: { words: 'the night alone', arrivals: weekly(EVERY_DAY, night) },
  tides: { words: 'the tides', arrivals: tides },
} as const satisfies Record<string, DayKind>
export type DayName = keyof typeof DAYS
