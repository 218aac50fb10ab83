import { batchSeconds, type BatchProfile } from '../service/profile.ts'
import type { Floor } from './floor.ts'
import type { Replicas } from './replicas.ts'
import { INSTANT_SECONDS } from './rules.ts'

/** Whole batches of fixed work, with a window to fill them (engine rules, section 4). */
export class BatchReplicas implements Replicas {
  private readonly floor: Floor
  private readonly profile: BatchProfile
  private readonly running: Int32Array
  private readonly batch: Int32Array

  constructor(floor: Floor, profile: BatchProfile) {
    this.floor = floor
    this.profile = profile
    this.running = new Int32Array(floor.replicas)
    this.batch = new Int32Array(floor.replicas * profile.maxBatch)
  }

  tooLarge(): boolean {
    return false
  }

  /** Under a shared queue a replica takes requests while it is free, up to one batch. */
  hasRoom(replica: number): boolean {
    return this.running[replica] === 0 && this.floor.lines.length[replica] < this.profile.maxBatch
  }

  startsAtOnce(replica: number): boolean {
    if (this.running[replica] > 0) return false
    const waiting = this.floor.lines.length[replica]
    return this.profile.windowSeconds === 0 ? waiting < this.profile.maxBatch : waiting + 1 === this.profile.maxBatch
  }

  wake(replica: number, now: number): void {
    if (this.running[replica] > 0 || this.floor.lines.length[replica] === 0) return
    this.floor.clock.set(replica, this.due(replica, now) ? now : this.deadline(replica))
  }

  sharedHeadChanged(): void {
    // A free replica empties the shared line at its own boundary; a busy one takes nothing.
  }

  boundary(replica: number, now: number): void {
    if (this.running[replica] > 0) this.land(replica, now)
    if (this.floor.sharesQueue) {
      while (this.floor.sharedWaiting() && this.hasRoom(replica)) this.floor.takeShared(replica)
    }
    if (this.floor.lines.length[replica] === 0) this.floor.clock.set(replica, Infinity)
    else if (this.due(replica, now)) this.start(replica, now)
    else this.floor.clock.set(replica, this.deadline(replica))
  }

  private deadline(replica: number): number {
    return this.floor.requests.at[this.floor.lines.peek(replica)] + this.profile.windowSeconds
  }

  private due(replica: number, now: number): boolean {
    return this.floor.lines.length[replica] >= this.profile.maxBatch || now >= this.deadline(replica) - INSTANT_SECONDS
  }

  private start(replica: number, now: number): void {
    const base = replica * this.profile.maxBatch
    let size = 0
    let largest = 0
    while (size < this.profile.maxBatch && this.floor.lines.length[replica] > 0) {
      const request = this.floor.begin(replica, now)
      largest = Math.max(largest, this.floor.requests.input[request])
      this.batch[base + size++] = request
    }
    this.running[replica] = size
    this.floor.clock.set(replica, now + batchSeconds(this.profile, size, largest))
  }

  private land(replica: number, now: number): void {
    const base = replica * this.profile.maxBatch
    for (let i = base; i < base + this.running[replica]; i++) this.floor.finish(replica, this.batch[i], now, now)
    this.running[replica] = 0
  }
}
