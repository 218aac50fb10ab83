import type { Gauge } from './fleet.ts'

type Area = 'inFlightArea' | 'waitingArea' | 'busyArea' | 'arrivals'

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
    while (this.past.length > 2 && this.past[1].now <= gauge.now - this.longestSeconds) this.past.shift()
  }

  /** Mean growth of an area per second over the window until the last reading, back to the latest reading that is at least so old. */
  mean(area: Area, windowSeconds: number): number {
    const last = this.past[this.past.length - 1]
    let from = this.past[0]
    for (const g of this.past) if (g.now <= last.now - windowSeconds) from = g
    const seconds = last.now - from.now
    return seconds > 0 ? (last[area] - from[area]) / seconds : 0
  }
}
