import type { Policy } from './policy.ts'
import { DAY_SECONDS, WEEK_SECONDS, type ScalingContext, type ScheduleWindow } from './rules.ts'

/** The minimum of a weekly window while it lasts; a window that ends before it begins goes past midnight. */
export function schedulePolicy(window: ScheduleWindow, { weekStartSeconds }: ScalingContext): Policy {
  return ({ now }) => (within(window, weekStartSeconds + now) ? { replicas: window.min, cause: 'schedule' } : undefined)
}

export function within({ days, fromSeconds, untilSeconds }: ScheduleWindow, secondsOfWeek: number): boolean {
  const day = Math.floor((((secondsOfWeek % WEEK_SECONDS) + WEEK_SECONDS) % WEEK_SECONDS) / DAY_SECONDS)
  const clock = ((secondsOfWeek % DAY_SECONDS) + DAY_SECONDS) % DAY_SECONDS
  if (fromSeconds <= untilSeconds) return days.includes(day) && clock >= fromSeconds && clock < untilSeconds
  return (days.includes(day) && clock >= fromSeconds) || (days.includes((day + 6) % 7) && clock < untilSeconds)
}
