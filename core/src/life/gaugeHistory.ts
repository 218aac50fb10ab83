import type { Gauge } from './fleet.ts'
import { Trail } from './trail.ts'

const AREAS = ['inFlightArea', 'waitingArea', 'busyArea', 'arrivals'] as const
type Area = (typeof AREAS)[number]

/** Areas under the gauge as they were at past readings, so that means over windows can be told. */
export class GaugeHistory {
  private readonly past: Trail

  /**
   * @param longestSeconds the longest window that is asked for
   * @param curves what is read of hosts
   */
  constructor(longestSeconds: number, curves = 0) {
    this.past = new Trail(AREAS.length + curves, longestSeconds)
    this.past.add(0)
  }

  push(gauge: Gauge): void {
    const { past } = this
    const row = past.add(gauge.now)
    past.columns[0][row] = gauge.inFlightArea
    past.columns[1][row] = gauge.waitingArea
    past.columns[2][row] = gauge.busyArea
    past.columns[3][row] = gauge.arrivals
    gauge.hostAreas.forEach((area, curve) => (past.columns[AREAS.length + curve][row] = area))
  }

  /** Mean growth of an area per second over the window until the last reading, back to the latest reading that is at least so old. */
  mean(area: Area, windowSeconds: number): number {
    return this.meanOf(AREAS.indexOf(area), windowSeconds)
  }

  /** The same of what a host shows. */
  hostMean(curve: number, windowSeconds: number): number {
    return this.meanOf(AREAS.length + curve, windowSeconds)
  }

  private meanOf(place: number, windowSeconds: number): number {
    const { past } = this
    const column = past.columns[place]
    const last = past.count - 1
    const first = past.lastUntil(past.seconds[last] - windowSeconds)
    const seconds = past.seconds[last] - past.seconds[first]
    return seconds > 0 ? (column[last] - column[first]) / seconds : 0
  }
}
