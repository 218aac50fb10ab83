import { Trail } from '../life/trail.ts'
import type { Direction, SpeedLimit } from './rules.ts'

interface Change {
  seconds: number
  /** added (above 0) or taken away (below) */
  replicas: number
}

/**
 * How fast wishes are followed: upwards the smallest wish of the stabilisation window, downwards the largest, each within
 * its speed limits, of which the one that lets most through counts.
 */
export class Behaviour {
  private readonly up: Direction
  private readonly down: Direction
  private readonly longestPeriod: number
  private readonly wishes: Trail
  private changes: Change[] = []

  constructor(up: Direction, down: Direction) {
    this.up = up
    this.down = down
    this.longestPeriod = Math.max(0, ...[...up.limits, ...down.limits].map((l) => l.periodSeconds))
    this.wishes = new Trail(1, Math.max(up.stabilisationSeconds, down.stabilisationSeconds))
  }

  /** @param current replicas that are there or on their way */
  follow(wish: number, current: number, now: number): number {
    const row = this.wishes.add(now)
    this.wishes.columns[0][row] = wish
    const least = this.smallest(this.up.stabilisationSeconds, now)
    const most = this.largest(this.down.stabilisationSeconds, now)
    // One more or one fewer than now, only as far as the whole window agrees.
    const steady = Math.min(Math.max(current, least), most)
    const next = this.limited(steady, current, now)
    if (next !== current) this.changes = [...this.changes.filter((c) => c.seconds > now - this.longestPeriod), { seconds: now, replicas: next - current }]
    return next
  }

  /** The smallest wish of a window, the present one included. */
  private smallest(windowSeconds: number, now: number): number {
    const { seconds, columns: [replicas], count } = this.wishes
    let out = replicas[count - 1]
    for (let i = count - 2; i >= 0 && seconds[i] >= now - windowSeconds; i--) if (replicas[i] < out) out = replicas[i]
    return out
  }

  /** The largest wish of a window, the present one included. */
  private largest(windowSeconds: number, now: number): number {
    const { seconds, columns: [replicas], count } = this.wishes
    let out = replicas[count - 1]
    for (let i = count - 2; i >= 0 && seconds[i] >= now - windowSeconds; i--) if (replicas[i] > out) out = replicas[i]
    return out
  }

  private limited(wish: number, current: number, now: number): number {
    if (wish > current && this.up.limits.length > 0) return Math.min(wish, Math.max(current, ...this.up.limits.map((l) => this.reach(l, current, now, 1))))
    if (wish < current && this.down.limits.length > 0) return Math.max(wish, Math.min(current, ...this.down.limits.map((l) => this.reach(l, current, now, -1))))
    return wish
  }

  /** How far a limit lets go from what there was when its period began. */
  private reach({ unit, amount, periodSeconds }: SpeedLimit, current: number, now: number, sign: 1 | -1): number {
    const within = this.changes.filter((c) => c.seconds > now - periodSeconds && Math.sign(c.replicas) === sign)
    const start = current - within.reduce((sum, c) => sum + c.replicas, 0)
    if (unit === 'replicas') return start + sign * amount
    return sign > 0 ? Math.ceil(start * (1 + amount / 100) - 1e-9) : Math.floor(start * (1 - amount / 100) + 1e-9)
  }
}
