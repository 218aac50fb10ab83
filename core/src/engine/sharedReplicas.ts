import { FinishLines } from './finishLines.ts'
import type { Floor } from './floor.ts'
import type { Replicas } from './replicas.ts'
import { INSTANT_SECONDS } from './rules.ts'
import type { SideBySide } from './sideBySide.ts'

/**
 * Requests side by side, which may slow each other (docs/model.md, 5), by virtual time: its clock
 * runs at the rate at which each of those in service advances, so that a request finishes when the clock has gone on by
 * what it needs alone, whoever comes and goes meanwhile.
 */
export class SharedReplicas implements Replicas {
  private readonly floor: Floor
  private readonly costs: SideBySide
  private readonly active: FinishLines
  /** whether anybody is slowed by others */
  private readonly slows: boolean
  /** virtual seconds, as of `readAt` */
  private readonly virtual: Float64Array
  private readonly readAt: Float64Array
  /** when the next one finishes if nobody comes */
  private readonly finishAt: Float64Array

  constructor(floor: Floor, costs: SideBySide) {
    this.floor = floor
    this.costs = costs
    this.active = new FinishLines(floor.replicas, costs.slots)
    this.slows = costs.slowness(costs.slots) !== 1
    this.virtual = new Float64Array(floor.replicas)
    this.readAt = new Float64Array(floor.replicas)
    this.finishAt = new Float64Array(floor.replicas).fill(Infinity)
  }

  tooLarge(request: number): boolean {
    return this.costs.tooLarge(request)
  }

  hasRoom(replica: number): boolean {
    return this.floor.busy.isOpen(replica) && this.active.size[replica] + this.floor.lines.length[replica] < this.costs.slots
  }

  beginsAtOnce(replica: number): number {
    return this.hasRoom(replica) ? 1 : 0
  }

  wake(replica: number, now: number, stepsAreOver: boolean): void {
    const { lines, clock } = this.floor
    const takes = lines.length[replica] > 0 && this.active.size[replica] < this.costs.slots
    if (takes && !stepsAreOver) clock.set(replica, now)
  }

  sharedHeadChanged(): void {
    // Every slot is taken while anybody waits in the shared line.
  }

  boundary(replica: number, now: number): void {
    const { floor, active } = this
    this.advance(replica, now)
    while (active.size[replica] > 0 && active.firstMark(replica) <= this.virtual[replica] + INSTANT_SECONDS) this.finish(replica, now)
    if (floor.sharesQueue) while (floor.sharedWaiting() && this.hasRoom(replica)) floor.takeShared(replica)
    while (floor.lines.length[replica] > 0 && active.size[replica] < this.costs.slots) {
      const request = floor.begin(replica, now)
      active.push(replica, this.virtual[replica] + this.costs.needs(request), request)
      this.expectFirst(request)
    }
    this.expect(replica, now)
  }

  dropAll(replica: number, now: number): number[] {
    const out = Array.from({ length: this.active.size[replica] }, () => this.active.pop(replica))
    const { firstToken } = this.floor.record
    for (const request of out) if (firstToken[request] > now) firstToken[request] = NaN
    this.finishAt[replica] = Infinity
    this.floor.clock.set(replica, Infinity)
    return out
  }

  /** Brings the virtual clock up to now. */
  private advance(replica: number, now: number): void {
    const n = this.active.size[replica]
    if (n === 0) this.virtual[replica] = 0
    else if (now >= this.finishAt[replica]) this.virtual[replica] = this.active.firstMark(replica)
    else this.virtual[replica] += (now - this.readAt[replica]) / this.costs.slowness(n)
    if (n > 0) this.floor.observers.meter?.span(replica, this.readAt[replica], now, n, 0, 0)
    this.readAt[replica] = now
  }

  private finish(replica: number, now: number): void {
    const request = this.active.pop(replica)
    const { late } = this.floor.observers
    if (late) late.others[request] = this.slows ? now - this.floor.record.start[request] - this.costs.needs(request) : 0
    this.floor.finish(replica, request, this.costs.untilFirst ? Math.min(this.floor.record.firstToken[request], now) : now, now)
  }

  /** Where nobody slows anybody it is known at the start when the first token comes; who is told to be there at the end has had it. */
  private expectFirst(request: number): void {
    const { costs, floor } = this
    if (!costs.untilFirst) return
    const at = floor.record.start[request] + costs.untilFirst(request)
    if (at <= floor.rules.horizonSeconds) floor.record.firstToken[request] = at
  }

  private expect(replica: number, now: number): void {
    const n = this.active.size[replica]
    this.finishAt[replica] = n === 0 ? Infinity : now + (this.active.firstMark(replica) - this.virtual[replica]) * this.costs.slowness(n)
    this.floor.clock.set(replica, this.finishAt[replica])
  }
}
