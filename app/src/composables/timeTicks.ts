import { clock } from '@sandclock/core'

const STEPS_SECONDS = [60, 300, 900, 1800, 3600, 3 * 3600, 6 * 3600, 12 * 3600, 86_400, 7 * 86_400, 30 * 86_400]
const MOST_TICKS = 9

export interface TimeTick {
  seconds: number
  label: string
}

/** Marks of a time axis at round clock times, in words. @param startIso start of the horizon */
export function timeTicks(startIso: string, fromSeconds: number, untilSeconds: number): TimeTick[] {
  const step = STEPS_SECONDS.find((s) => (untilSeconds - fromSeconds) / s <= MOST_TICKS) ?? STEPS_SECONDS[STEPS_SECONDS.length - 1]
  const offset = (Date.parse(startIso) / 1000) % step
  const out: TimeTick[] = []
  for (let t = Math.ceil((fromSeconds + offset) / step) * step - offset; t < untilSeconds; t += step) {
    const words = clock(startIso, t)
    out.push({
      seconds: t,
      label: step >= 86_400 ? words.slice(0, 3) : step >= 6 * 3600 && words.endsWith('00:00') ? words.slice(0, 3) : words.slice(4),
    })
  }
  return out
}
