import { clockSeconds, type ScalingPolicy } from '@sandclock/core'

type Window = NonNullable<ScalingPolicy['schedule']>[number]

const DAY = 86_400

/** Second of the week, from Monday 00:00 UTC, at which a horizon begins. */
export function weekOffset(startIso: string): number {
  const days = Date.parse(startIso) / 1000 / DAY - 4 // the first Monday of the calendar that computers count from was the fifth day
  return (days - Math.floor(days / 7) * 7) * DAY
}

/** Where a weekly window lies within a time of the horizon, seconds of the horizon; one that ends before it begins goes past midnight. */
export function occurrences(window: Window, startIso: string, from: number, until: number): { from: number; until: number }[] {
  const offset = weekOffset(startIso)
  const [begin, end] = [clockSeconds(window.from), clockSeconds(window.until)]
  const length = end > begin ? end - begin : end + DAY - begin
  const out: { from: number; until: number }[] = []
  for (let day = Math.floor((from + offset) / DAY) - 1; day * DAY - offset < until; day++) {
    if (!window.days.includes((((day % 7) + 7) % 7) + 1)) continue
    const at = day * DAY - offset + begin
    if (at < until && at + length > from) out.push({ from: at, until: at + length })
  }
  return out
}

/** The weekday of a time of the horizon, 1 for Monday. */
export function weekday(startIso: string, seconds: number): number {
  return (Math.floor((seconds + weekOffset(startIso)) / DAY) % 7) + 1
}

/** The first time in a stretch at which a service goes to sleep. */
export function firstSleep(wanted: { seconds: number[]; values: number[] }, from: number, until: number): number | undefined {
  const i = wanted.values.findIndex((v, k) => k > 0 && v === 0 && wanted.seconds[k] > from && wanted.seconds[k] < until)
  return i < 0 ? undefined : wanted.seconds[i]
}
