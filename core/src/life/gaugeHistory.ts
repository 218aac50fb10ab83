import type { Gauge } from './fleet.ts'

type Area = 'inFlightArea' | 'waitingArea' | 'busyArea' | 'arrivals'

/** Readings are forgotten when there are so many: seldom, and never those that a window needs. */
const MOST_REMEMBERED = 4096

/** Areas under the gauge as they were at past readings, so that means over windows can be told. */
export class GaugeHistory {
  private readonly past: Gauge[] = [{ now: 0, arrivals: 0, inFlightArea: 0, waitingArea: 0, busyArea: 0 }]
  private readonly longestSeconds: number

  /** @param longestSeconds the longest window that is asked for */
  constructor(longestSeconds: number) {
    this.longestSeconds = longestSeconds
  }

  push(gauge: Gauge): void {
    this.past.push({ ...gauge })
    if (this.past.length > MOST_REMEMBERED) this.forget(gauge.now)
  }

  /** The last reading that is old enough for the longest window stays. */
  private forget(now: number): void {
    const first = this.past.findIndex((g) => g.now > now - this.longestSeconds)
    this.past.splice(0, Math.max(0, first - 1))
  }

  /** Mean growth of an area per second over the window until the last reading, back to the latest reading that is at least so old. */
  mean(area: Area, windowSeconds: number): number {
    const { past } = this
    const last = past[past.length - 1]
    let i = past.length - 1
    while (i > 0 && past[i].now > last.now - windowSeconds) i--
    const seconds = last.now - past[i].now
    return seconds > 0 ? (last[area] - past[i][area]) / seconds : 0
  }
}
