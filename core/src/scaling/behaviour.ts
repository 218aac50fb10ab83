import type { Direction, SpeedLimit } from './rules.ts'

interface At {
  seconds: number
  replicas: number
}

/** Wishes are forgotten when there are so many: seldom, and never those of a window. */
const MOST_REMEMBERED = 4096

/**
 * How fast wishes are followed: upwards the smallest wish of the stabilisation window, downwards the largest, each within
 * its speed limits, of which the one that lets most through counts.
 */
export class Behaviour {
  private readonly up: Direction
  private readonly down: Direction
  private readonly longestPeriod: number
  private wishes: At[] = []
  /** replicas added (above 0) or taken away (below) */
  private changes: At[] = []

  constructor(up: Direction, down: Direction) {
    this.up = up
    this.down = down
    this.longestPeriod = Math.max(0, ...[...up.limits, ...down.limits].map((l) => l.periodSeconds))
  }

  /** @param current replicas that are there or on their way */
  follow(wish: number, current: number, now: number): number {
    this.wishes.push({ seconds: now, replicas: wish })
    const least = this.extreme(this.up.stabilisationSeconds, now, Math.min)
    const most = this.extreme(this.down.stabilisationSeconds, now, Math.max)
    if (this.wishes.length > MOST_REMEMBERED) this.forget(now)
    // One more or one fewer than now, only as far as the whole window agrees.
    const steady = Math.min(Math.max(current, least), most)
    const next = this.limited(steady, current, now)
    if (next !== current) this.changes = [...this.changes.filter((c) => c.seconds > now - this.longestPeriod), { seconds: now, replicas: next - current }]
    return next
  }

  /** The smallest or largest wish of a window, the present one included; from the latest back, so that long memories cost nothing. */
  private extreme(windowSeconds: number, now: number, of: (a: number, b: number) => number): number {
    const { wishes } = this
    let out = wishes[wishes.length - 1].replicas
    for (let i = wishes.length - 2; i >= 0 && wishes[i].seconds >= now - windowSeconds; i--) out = of(out, wishes[i].replicas)
    return out
  }

  private forget(now: number): void {
    const longest = Math.max(this.up.stabilisationSeconds, this.down.stabilisationSeconds)
    this.wishes = this.wishes.filter((w) => w.seconds >= now - longest)
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
