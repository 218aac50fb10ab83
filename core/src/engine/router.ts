import { drawOf } from '../random/mixer.ts'
import type { LeastBusy } from './leastBusy.ts'
import type { Routing } from '../plan/ways.ts'

/** Which ready replica a request is bound to, wherever it is bound on arrival (docs/model.md, 6). */
export interface Router {
  /** Considers one more replica. */
  open(replica: number): void
  /** Considers one no more. */
  close(replica: number): void
  /** @returns a ready replica, or −1 when none is */
  choose(request: number, attempt: number): number
}

/** The replica with the fewest bound and in service, ties to the lowest number: `LeastBusy` keeps the order. */
const leastBusy = (busy: LeastBusy): Router => ({ open: () => undefined, close: () => undefined, choose: () => busy.first() })

const ROUTERS: Record<Routing, (busy: LeastBusy, seed: number) => Router> = {
  'least-busy': leastBusy,
  'round-robin': () => new RoundRobin(),
  'two-choice': (busy, seed) => new TwoChoice(busy, seed),
  // Who finds one with room; everybody else waits in the common line.
  'shared-queue': leastBusy,
}

export function routerOf(routing: Routing, busy: LeastBusy, seed: number): Router {
  return ROUTERS[routing](busy, seed)
}

/** Ready replicas in ascending order. */
class ReadyList {
  readonly numbers: number[] = []

  open(replica: number): void {
    const after = this.numbers.findIndex((r) => r > replica)
    this.numbers.splice(after < 0 ? this.numbers.length : after, 0, replica)
  }

  close(replica: number): void {
    this.numbers.splice(this.numbers.indexOf(replica), 1)
  }
}

/** In turn over the ready replicas, from the lowest number on. */
class RoundRobin extends ReadyList implements Router {
  private last = -1
  /** place of the next in the list */
  private turn = 0

  override open(replica: number): void {
    super.open(replica)
    this.findTurn()
  }

  override close(replica: number): void {
    super.close(replica)
    this.findTurn()
  }

  private findTurn(): void {
    this.turn = this.numbers.filter((r) => r <= this.last).length
  }

  choose(): number {
    const { numbers } = this
    if (numbers.length === 0) return -1
    if (this.turn >= numbers.length) this.turn = 0
    this.last = numbers[this.turn++]
    return this.last
  }
}

/** The less busy of two different replicas drawn at random, ties to the lower number. The draw belongs to the attempt. */
class TwoChoice extends ReadyList implements Router {
  private readonly busy: LeastBusy
  private readonly seed: number

  constructor(busy: LeastBusy, seed: number) {
    super()
    this.busy = busy
    this.seed = seed
  }

  choose(request: number, attempt: number): number {
    const { numbers, busy } = this
    const n = numbers.length
    if (n < 2) return n === 0 ? -1 : numbers[0]
    const i = Math.floor(drawOf(this.seed, request, 2 * attempt) * n)
    const other = Math.floor(drawOf(this.seed, request, 2 * attempt + 1) * (n - 1))
    const j = other < i ? other : other + 1
    const low = numbers[Math.min(i, j)]
    const high = numbers[Math.max(i, j)]
    return busy.of(high) < busy.of(low) ? high : low
  }
}
