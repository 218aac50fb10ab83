import { remembered } from '../demand/remembered.ts'
import { batchSeconds, type BatchProfile } from '../service/profile.ts'
import type { Floor } from './floor.ts'
import type { Replicas } from './replicas.ts'
import { INSTANT_SECONDS } from './rules.ts'

const NONE = -1

/**
 * Whole batches of fixed work, with a window to fill them (docs/model.md, 5). A batch counts items; a request of
 * several may be spread over batches of one replica, and is done with its last item.
 */
export class BatchReplicas implements Replicas {
  private readonly floor: Floor
  private readonly profile: BatchProfile
  /** requests whose last item is in the running batch; with `held`, all that have items in it */
  private readonly ending: Int32Array
  private readonly batch: Int32Array
  /** items in the running batch; 0 for a free replica */
  private readonly items: Int32Array
  /** the request that has items left after the running batch, and how many */
  private readonly held: Int32Array
  private readonly heldItems: Int32Array
  private readonly batchStart: Float64Array
  /** whether any request has more than one item */
  private readonly several: boolean

  constructor(floor: Floor, profile: BatchProfile) {
    const { replicas, requests } = floor
    this.floor = floor
    this.profile = profile
    this.ending = new Int32Array(replicas)
    this.batch = new Int32Array(replicas * profile.maxBatch)
    this.items = new Int32Array(replicas)
    this.held = new Int32Array(replicas).fill(NONE)
    this.heldItems = new Int32Array(replicas)
    this.batchStart = new Float64Array(replicas)
    this.several = remembered(requests, 'several items', () => requests.output.some((n) => n > 1))
  }

  tooLarge(): boolean {
    return false
  }

  private itemsOf(request: number): number {
    return this.several ? Math.max(1, this.floor.requests.output[request]) : 1
  }

  /** Items that wait in the replica's line, counted no further than one batch. */
  private waitingItems(replica: number): number {
    const { lines } = this.floor
    if (!this.several) return lines.length[replica]
    let items = 0
    for (let i = lines.peek(replica); i !== NONE && items < this.profile.maxBatch; i = lines.after(replica, i)) items += this.itemsOf(i)
    return items
  }

  /** Under a shared queue a replica takes requests while it is free, up to one batch. */
  hasRoom(replica: number): boolean {
    return this.items[replica] === 0 && this.floor.busy.isOpen(replica) && this.waitingItems(replica) < this.profile.maxBatch
  }

  beginsAtOnce(replica: number, request: number): number {
    const { maxBatch, windowSeconds } = this.profile
    if (this.items[replica] > 0) return 0
    const waiting = this.waitingItems(replica)
    if (waiting >= maxBatch) return 0
    if (windowSeconds === 0) return 1
    return waiting + this.itemsOf(request) >= maxBatch ? this.beginWith(replica, request) : 0
  }

  /** How many requests the batch begins that a new one fills: those of its line that come before it or still have room. */
  private beginWith(replica: number, request: number): number {
    const { lines } = this.floor
    let count = 0
    let items = 0
    let placed = false
    for (let i = lines.peek(replica); items < this.profile.maxBatch;) {
      const newOne = !placed && (i === NONE || lines.level(request) < lines.level(i))
      if (!newOne && i === NONE) break
      items += this.itemsOf(newOne ? request : i)
      count++
      if (newOne) placed = true
      else i = lines.after(replica, i)
    }
    return placed ? count : 0
  }

  wake(replica: number, now: number): void {
    if (this.items[replica] > 0) return
    if (this.floor.lines.length[replica] === 0) return this.floor.clock.set(replica, Infinity)
    this.floor.clock.set(replica, this.due(replica, now) ? now : this.deadline(replica))
  }

  sharedHeadChanged(): void {
    // A free replica empties the shared line at its own boundary; a busy one takes nothing.
  }

  boundary(replica: number, now: number): void {
    if (this.items[replica] > 0) this.land(replica, now)
    const { floor } = this
    if (floor.sharesQueue && this.held[replica] === NONE) {
      while (floor.sharedWaiting() && this.hasRoom(replica)) floor.takeShared(replica)
    }
    if (this.held[replica] !== NONE || (floor.lines.length[replica] > 0 && this.due(replica, now))) this.start(replica, now)
    else if (floor.lines.length[replica] === 0) floor.clock.set(replica, Infinity)
    else floor.clock.set(replica, this.deadline(replica))
  }

  dropAll(replica: number): number[] {
    const base = replica * this.profile.maxBatch
    const out = this.items[replica] > 0 ? [...this.batch.subarray(base, base + this.ending[replica])] : []
    if (this.held[replica] !== NONE) out.push(this.held[replica])
    this.items[replica] = 0
    this.held[replica] = NONE
    this.floor.clock.set(replica, Infinity)
    return out
  }

  private deadline(replica: number): number {
    return this.floor.lines.leastOverHeads(replica, this.floor.since) + this.profile.windowSeconds
  }

  private due(replica: number, now: number): boolean {
    return this.waitingItems(replica) >= this.profile.maxBatch || now >= this.deadline(replica) - INSTANT_SECONDS
  }

  private start(replica: number, now: number): void {
    const { floor, profile } = this
    const { input } = floor.requests
    const base = replica * profile.maxBatch
    let items = 0
    let largest = 0
    let ending = 0
    while (items < profile.maxBatch) {
      const held = this.held[replica]
      if (held === NONE && floor.lines.length[replica] === 0) break
      const request = held === NONE ? floor.begin(replica, now) : held
      const left = held === NONE ? this.itemsOf(request) : this.heldItems[replica]
      const takes = Math.min(left, profile.maxBatch - items)
      items += takes
      largest = Math.max(largest, input[request])
      this.held[replica] = takes < left ? request : NONE
      this.heldItems[replica] = left - takes
      if (takes === left) this.batch[base + ending++] = request
    }
    this.ending[replica] = ending
    this.items[replica] = items
    this.batchStart[replica] = now
    floor.clock.set(replica, now + batchSeconds(profile, items, largest))
  }

  private land(replica: number, now: number): void {
    const { floor, profile } = this
    const { meter, late } = floor.observers
    const base = replica * profile.maxBatch
    meter?.span(replica, this.batchStart[replica], now, this.items[replica], 0, 0)
    this.items[replica] = 0
    for (let i = base; i < base + this.ending[replica]; i++) {
      const request = this.batch[i]
      if (late) late.others[request] = now - floor.record.start[request] - this.aloneSeconds(request)
      floor.finish(replica, request, now, now)
    }
  }

  /** Seconds that a request would have taken in batches of its own. */
  private aloneSeconds(request: number): number {
    const { maxBatch } = this.profile
    const work = this.floor.requests.input[request]
    const items = this.itemsOf(request)
    const last = items % maxBatch
    const full = (items - last) / maxBatch
    return full * batchSeconds(this.profile, maxBatch, work) + (last > 0 ? batchSeconds(this.profile, last, work) : 0)
  }
}
