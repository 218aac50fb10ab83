import { Trail } from '../life/trail.ts'
import type { Direction, SpeedLimit } from './rules.ts'

/**
 * How fast wishes are followed: upwards the smallest wish of the stabilisation window, downwards the largest, each within
 * its speed limits, of which the one that lets most through counts, from what there was when its period began.
 */
export class Behaviour {
  private readonly up: Direction
  private readonly down: Direction
  private readonly wishes: Trail
  /** what there was from each time on: replicas that are there or on their way */
  private readonly there: Trail

  constructor(up: Direction, down: Direction) {
    this.up = up
    this.down = down
    this.there = new Trail(1, Math.max(0, ...[...up.limits, ...down.limits].map((l) => l.periodSeconds)))
    this.wishes = new Trail(1, Math.max(up.stabilisationSeconds, down.stabilisationSeconds))
  }

  /**
   * How far a wish is followed now. What comes of it, once minimum and maximum had their say, is told by {@link made}.
   *
   * @param current replicas that are there or on their way
   */
  follow(wish: number, current: number, now: number): number {
    // Whoever woke or slept since the last reading was no wish.
    if (this.there.count === 0 || this.there.columns[0][this.there.count - 1] !== current) this.made(current, now)
    const row = this.wishes.add(now)
    this.wishes.columns[0][row] = wish
    const least = this.smallest(this.up.stabilisationSeconds, now)
    const most = this.largest(this.down.stabilisationSeconds, now)
    // One more or one fewer than now, only as far as the whole window agrees.
    const steady = Math.min(Math.max(current, least), most)
    return this.limited(steady, current, now)
  }

  /** So many replicas there are from now on. */
  made(replicas: number, now: number): void {
    const row = this.there.add(now)
    this.there.columns[0][row] = replicas
  }

  /** The smallest wish of a window, the present one included. */
  private smallest(windowSeconds: number, now: number): number {
    const {
      seconds,
      columns: [replicas],
      count,
    } = this.wishes
    let out = replicas[count - 1]
    for (let i = count - 2; i >= 0 && seconds[i] >= now - windowSeconds; i--) if (replicas[i] < out) out = replicas[i]
    return out
  }

  /** The largest wish of a window, the present one included. */
  private largest(windowSeconds: number, now: number): number {
    const {
      seconds,
      columns: [replicas],
      count,
    } = this.wishes
    let out = replicas[count - 1]
    for (let i = count - 2; i >= 0 && seconds[i] >= now - windowSeconds; i--) if (replicas[i] > out) out = replicas[i]
    return out
  }

  private limited(wish: number, current: number, now: number): number {
    if (wish > current && this.up.limits.length > 0)
      return Math.min(wish, Math.max(current, ...this.up.limits.map((l) => this.reach(l, now, 1))))
    if (wish < current && this.down.limits.length > 0)
      return Math.max(wish, Math.min(current, ...this.down.limits.map((l) => this.reach(l, now, -1))))
    return wish
  }

  /** How far a limit lets go from what there was when its period began. */
  private reach({ unit, amount, periodSeconds }: SpeedLimit, now: number, sign: 1 | -1): number {
    const { there } = this
    const start = there.columns[0][there.lastUntil(now - periodSeconds)]
    if (unit === 'replicas') return start + sign * amount
    return sign > 0 ? Math.ceil(start * (1 + amount / 100) - ROUNDING) : Math.floor(start * (1 - amount / 100) + ROUNDING)
  }
}

/** 3.0000000001 replicas are 3. */
const ROUNDING = 1e-9
