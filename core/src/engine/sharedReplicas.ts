import { aloneSeconds, slowness, type SharedProfile } from '../service/profile.ts'
import { FinishLines } from './finishLines.ts'
import type { Floor } from './floor.ts'
import type { Replicas } from './replicas.ts'
import { INSTANT_SECONDS } from './rules.ts'

/**
 * Requests side by side on one host, slowing each other (docs/model.md, 5), by virtual time: its clock
 * runs at the rate at which each of those in service advances, so that a request finishes when the clock has gone on by
 * what it needs alone, whoever comes and goes meanwhile.
 */
export class SharedReplicas implements Replicas {
  private readonly floor: Floor
  private readonly profile: SharedProfile
  private readonly active: FinishLines
  /** virtual seconds, as of `readAt` */
  private readonly virtual: Float64Array
  private readonly readAt: Float64Array
  /** when the next one finishes if nobody comes */
  private readonly finishAt: Float64Array

  constructor(floor: Floor, profile: SharedProfile) {
    this.floor = floor
    this.profile = profile
    this.active = new FinishLines(floor.replicas, profile.slots)
    this.virtual = new Float64Array(floor.replicas)
    this.readAt = new Float64Array(floor.replicas)
    this.finishAt = new Float64Array(floor.replicas).fill(Infinity)
  }

  tooLarge(): boolean {
    return false
  }

  hasRoom(replica: number): boolean {
    return this.floor.busy.isOpen(replica) && this.active.size[replica] + this.floor.lines.length[replica] < this.profile.slots
  }

  beginsAtOnce(replica: number): number {
    return this.hasRoom(replica) ? 1 : 0
  }

  wake(replica: number, now: number, stepsAreOver: boolean): void {
    const { lines, clock } = this.floor
    const takes = lines.length[replica] > 0 && this.active.size[replica] < this.profile.slots
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
    while (floor.lines.length[replica] > 0 && active.size[replica] < this.profile.slots) {
      const request = floor.begin(replica, now)
      active.push(replica, this.virtual[replica] + this.needs(request), request)
    }
    this.expect(replica, now)
  }

  dropAll(replica: number): number[] {
    const out = Array.from({ length: this.active.size[replica] }, () => this.active.pop(replica))
    this.finishAt[replica] = Infinity
    this.floor.clock.set(replica, Infinity)
    return out
  }

  private needs(request: number): number {
    const { input, output } = this.floor.requests
    return aloneSeconds(this.profile, input[request], Math.max(1, output[request]))
  }

  /** Brings the virtual clock up to now. */
  private advance(replica: number, now: number): void {
    const n = this.active.size[replica]
    if (n === 0) this.virtual[replica] = 0
    else if (now >= this.finishAt[replica]) this.virtual[replica] = this.active.firstMark(replica)
    else this.virtual[replica] += (now - this.readAt[replica]) / slowness(this.profile, n)
    if (n > 0) this.floor.observers.meter?.span(replica, this.readAt[replica], now, n, 0, 0)
    this.readAt[replica] = now
  }

  private finish(replica: number, now: number): void {
    const request = this.active.pop(replica)
    const { late } = this.floor.observers
    if (late) late.others[request] = now - this.floor.record.start[request] - this.needs(request)
    this.floor.finish(replica, request, now, now)
  }

  private expect(replica: number, now: number): void {
    const n = this.active.size[replica]
    this.finishAt[replica] = n === 0 ? Infinity : now + (this.active.firstMark(replica) - this.virtual[replica]) * slowness(this.profile, n)
    this.floor.clock.set(replica, this.finishAt[replica])
  }
}
