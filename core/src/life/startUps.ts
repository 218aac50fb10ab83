import type { Cause } from './cause.ts'
import type { FleetHands } from './fleet.ts'
import type { Node, NodePool } from './nodes.ts'
import { Reads } from './reads.ts'
import type { Slot } from './slots.ts'
import {
  backSeconds,
  fetchesWeights,
  imageBytes,
  Stage,
  warmupSecondsOf,
  type LifeRecord,
  type StageCode,
  type StartRules,
} from './startRules.ts'

/**
 * How replicas start up, stage by stage, each on its node (docs/model.md, 7): what is pulled once serves all replicas of a node, and
 * simultaneous starts share the rates of their sources. Every stage that is entered is told to the record.
 */
export class StartUps {
  readonly reads: Reads
  private readonly start: StartRules
  private readonly replicas: Slot[]
  private readonly nodes: NodePool
  private readonly record: LifeRecord
  private readonly whenReady: (r: number, now: number, hands: FleetHands) => void

  /** @param replicas the slots of a fleet, which it goes on using; @param whenReady told of each that has passed its last stage */
  constructor(
    start: StartRules,
    replicas: Slot[],
    nodes: NodePool,
    record: LifeRecord,
    whenReady: (r: number, now: number, hands: FleetHands) => void,
  ) {
    this.start = start
    this.replicas = replicas
    this.nodes = nodes
    this.record = record
    this.whenReady = whenReady
    this.reads = new Reads(
      {
        image: { eachBytesPerSecond: start.imageBytesPerSecond, totalBytesPerSecond: start.imageTotalBytesPerSecond },
        weights: { eachBytesPerSecond: start.weightBytesPerSecond, totalBytesPerSecond: start.weightTotalBytesPerSecond },
      },
      start.networkBytesPerSecond,
    )
  }

  tell(replica: number, stage: StageCode, now: number, cause: Cause): void {
    this.record.events.push({ seconds: now, replica, node: this.replicas[replica].node, stage, cause })
  }

  /** On a node that is there and has room, else on one that comes, else on a new one; else it waits for room. */
  place(r: number, now: number, hands: FleetHands): void {
    const node = this.nodes.withRoom(now)
    if (!node) return
    this.nodes.take(node)
    this.replicas[r].node = node.number
    if (node.unloaded > 0) {
      node.unloaded--
      this.replicas[r].reloads = true
    }
    if (node.state === 'there') return this.enter(r, Stage.image, now, hands)
    this.replicas[r].stage = Stage.machine
    this.tell(r, Stage.machine, now, { machineInSeconds: node.due - now })
  }

  /** Enters a stage; stages that take no time are passed at once. */
  enter(r: number, stage: StageCode, now: number, hands: FleetHands): void {
    const s = this.replicas[r]
    const node = this.nodes.all[s.node]
    const { start } = this
    if (s.stage === Stage.weights) node.hasWeights = true
    if (s.stage === Stage.warmup) node.isWarm = true
    if (stage === Stage.image) s.giveUpAt = now + start.timeoutSeconds
    s.stage = stage
    s.due = Infinity
    this.tell(r, stage, now, 'stage-done')
    if (stage === Stage.ready) return this.whenReady(r, now, hands)
    if (stage === Stage.weights) {
      if (s.reloads || !fetchesWeights(start, node.hasWeights)) return this.enter(r, Stage.load, now, hands)
      this.reads.join('weights', r, s.node, start.weightBytes, now)
      if (!s.first) this.record.fetched.push({ seconds: now, bytes: start.weightBytes })
      return
    }
    if (stage === Stage.image) return this.awaitImage(r, node, now, hands)
    const seconds = this.lastSeconds(stage === Stage.load ? 'load' : 'warmup', s, node)
    if (seconds === 0) return this.enter(r, (stage + 1) as StageCode, now, hands) // image, load and warm-up have a next
    s.due = now + seconds
  }

  /** Seconds of the stages that read nothing from afar. */
  private lastSeconds(stage: 'load' | 'warmup', { reloads }: Slot, node: Node): number {
    const { start } = this
    if (reloads) return backSeconds(start)[stage]
    return stage === 'load' ? start.weightBytes / start.loadBytesPerSecond : warmupSecondsOf(start, node.isWarm)
  }

  /** One pull serves all replicas of a node. */
  private awaitImage(r: number, node: Node, now: number, hands: FleetHands): void {
    const bytes = imageBytes(this.start)
    if (node.image === 'there' || bytes === 0) return this.enter(r, Stage.weights, now, hands)
    if (node.image === 'none') {
      this.reads.join('image', node.number, node.number, bytes, now)
      if (node.from > 0) this.record.fetched.push({ seconds: now, bytes })
    }
    node.image = 'pulling'
  }

  /** Goes on with whom stages or reads ended for, and begins anew with whom they took too long. */
  goOn(now: number, hands: FleetHands): void {
    for (let done = this.reads.takeDone(now); done; done = this.reads.takeDone(now)) {
      if (done.kind === 'image') this.arriveImage(this.nodes.all[done.reader], now, hands)
      else this.enter(done.reader, Stage.load, now, hands)
    }
    this.replicas.forEach((s, r) => {
      if (s.due <= now)
        this.enter(r, (s.stage + 1) as StageCode, now, hands) // the stage after one that has an end
      else if (s.giveUpAt <= now) this.giveUp(r, now, hands)
    })
  }

  private arriveImage(node: Node, now: number, hands: FleetHands): void {
    node.image = 'there'
    this.replicas.forEach((s, r) => {
      if (s.node === node.number && s.stage === Stage.image) this.enter(r, Stage.weights, now, hands)
    })
  }

  /** A start-up that took too long begins anew on the same node, with what it left there. */
  private giveUp(r: number, now: number, hands: FleetHands): void {
    this.reads.leave('weights', r, now)
    this.replicas[r].stage = Stage.unplaced
    this.replicas[r].reloads = false
    this.tell(r, Stage.unplaced, now, 'timed-out')
    this.enter(r, Stage.image, now, hands)
  }
}
