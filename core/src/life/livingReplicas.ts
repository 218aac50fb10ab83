import { ln } from '../arithmetic/sameBits.ts'
import { RandomStream } from '../random/stream.ts'
import type { Cause, LossCause } from './cause.ts'
import type { FleetHands, WaitClocks } from './fleet.ts'
import type { IdleClock } from './idleClock.ts'
import { KeptEmpty } from './keptEmpty.ts'
import type { Node, NodePool } from './nodes.ts'
import { currentOf, emptySlot, leastMissed, SlotClocks, type Slot } from './slots.ts'
import { Stage, type LifeRecord, type LossRules, type NodeRules, type StartRules } from './startRules.ts'
import { StartUps } from './startUps.ts'

/** What a replica goes by from its order to its end. */
export interface ReplicaRules {
  start: StartRules
  nodes: NodeRules
  losses: LossRules
  /** how long one is kept that has nothing; Infinity for ever */
  keptSeconds: number
  seed: number
}

/**
 * The replicas of a fleet, from being asked for to being gone (docs/model.md, 7): they start up, serve, drain and are lost. How many
 * there should be is not theirs to say.
 */
export class LivingReplicas {
  readonly slots: readonly Slot[]
  readonly starts: StartUps
  readonly kept: KeptEmpty
  /** those that take requests */
  ready = 0
  private readonly all: Slot[]
  private readonly rules: ReplicaRules
  private readonly nodes: NodePool
  private readonly idleClock: IdleClock
  private readonly waits = new SlotClocks()
  /** why those are missed that are to be replaced */
  private missed: LossCause[] = []

  /** @param most replicas that there may be at one time, those that drain among them */
  constructor(rules: ReplicaRules, most: number, nodes: NodePool, idleClock: IdleClock, record: LifeRecord) {
    this.rules = rules
    this.nodes = nodes
    this.idleClock = idleClock
    this.slots = this.all = Array.from({ length: most }, () => emptySlot(0))
    this.kept = new KeptEmpty(most, rules.keptSeconds)
    this.starts = new StartUps(rules.start, this.all, nodes, record, (r, now, hands) => this.becomeReady(r, now, hands))
  }

  /** Those that are there or on their way. */
  get current(): number {
    return currentOf(this.slots)
  }

  clocks(now: number): WaitClocks {
    return this.waits.read(this.slots, now)
  }

  /** Takes in the time until now, before anything changes. */
  runClocks(now: number): void {
    this.waits.run(this.slots, now)
  }

  /** When the next of them changes by itself, and when the first grace of those that drain is over. */
  next(): { change: number; graceEnd: number } {
    let [change, graceEnd] = [Infinity, Infinity]
    for (const s of this.slots) {
      if (s.stage === Stage.draining) graceEnd = Math.min(graceEnd, s.lostAt)
      else if (s.stage !== Stage.none) change = Math.min(change, s.due, s.giveUpAt, s.lostAt)
    }
    return { change, graceEnd }
  }

  /** So many are there at the start, ready, on machines that have image and weights; fewer where fewer machines can be had. */
  alreadyRunning(wanted: number): void {
    for (let r = 0; r < wanted; r++) {
      const node = this.nodes.running()
      if (!node) break
      this.nodes.take(node)
      this.all[r] = { ...emptySlot(0), stage: Stage.warmup, node: node.number, due: 0, first: true }
    }
  }

  /** Asks for so many more: the first of them in place of those that were lost. */
  ask(missing: number, now: number, cause: Cause): void {
    for (let left = missing; left > 0; left--) {
      const r = this.slots.findIndex((s) => s.stage === Stage.none)
      if (r < 0) break
      this.all[r] = { ...emptySlot(this.slots[r].lives), stage: Stage.unplaced, first: now === 0 }
      const lost = this.missed.shift()
      this.starts.tell(r, Stage.unplaced, now, lost === undefined ? cause : { inPlaceOf: lost })
    }
    this.missed = []
  }

  /** Sends so many home whom nobody wants: first those that are not ready, the last ones first. */
  sendHome(spare: number, now: number, hands: FleetHands): void {
    for (let left = spare; left > 0; left--)
      this.leave(leastMissed(this.slots), now, hands, 'fewer-wanted', now + this.rules.nodes.graceSeconds)
  }

  /** Puts whoever is asked for on machines, as far as these have room. */
  place(now: number, hands: FleetHands): void {
    this.slots.forEach((s, r) => {
      if (s.stage === Stage.unplaced) this.starts.place(r, now, hands)
    })
  }

  /** One goes that nobody took away: it drains until a time, or gives its start-up up. */
  private leave(r: number, now: number, hands: FleetHands, cause: Cause, until: number): void {
    if (this.slots[r].stage === Stage.ready) this.drain(r, now, hands, cause, until)
    else this.vacate(r, now, cause)
  }

  private drain(r: number, now: number, hands: FleetHands, cause: Cause, until: number): void {
    const s = this.slots[r]
    this.ready--
    s.stage = Stage.draining
    s.lostAt = until
    this.starts.tell(r, Stage.draining, now, cause)
    hands.drain(r)
  }

  /** One got its first request, or its last is done. */
  turned(r: number, empty: boolean, now: number): void {
    if (this.slots[r].stage === Stage.ready) this.kept.turned(r, empty, now)
  }

  /** One that drains has nothing left. @returns whether it does drain */
  emptied(r: number, now: number): boolean {
    const drains = this.slots[r].stage === Stage.draining
    if (drains) this.vacate(r, now, 'all-done')
    return drains
  }

  /** One goes at once, since it was kept for long enough with nothing in it. */
  letGo(r: number, now: number, hands: FleetHands): void {
    if (this.slots[r].stage === Stage.ready) this.drain(r, now, hands, 'nobody-called', now)
    this.vacate(r, now, 'nobody-called')
  }

  /** All of one machine go until it is lost, and others are asked for. */
  leaveMachine(node: number, lostAt: number, now: number, hands: FleetHands): void {
    const until = Math.min(lostAt, now + this.rules.nodes.graceSeconds)
    this.slots.forEach((s, r) => {
      if (s.node !== node || s.stage === Stage.none || s.stage === Stage.draining) return
      this.missed.push('machine-noticed')
      this.leave(r, now, hands, 'machine-noticed', until)
    })
  }

  /** One is taken away, with what it had. */
  lose(r: number, now: number, hands: FleetHands, cause: LossCause | 'grace-over'): void {
    const { stage } = this.slots[r]
    if (stage === Stage.none) return
    if (stage === Stage.ready) this.ready--
    if (cause !== 'grace-over' && stage !== Stage.draining) this.missed.push(cause)
    this.vacate(r, now, cause)
    if (stage === Stage.ready || stage === Stage.draining) hands.lose(r)
  }

  loseOfMachine(node: number, now: number, hands: FleetHands, cause: LossCause): void {
    this.slots.forEach((s, r) => {
      if (s.node === node) this.lose(r, now, hands, cause)
    })
  }

  /** Those whose time has come. */
  loseBroken(now: number, hands: FleetHands): void {
    this.slots.forEach((s, r) => {
      if (s.lostAt <= now && s.stage !== Stage.draining) this.lose(r, now, hands, 'fault')
    })
  }

  /** Those that drained for as long as they may. Whoever ends at the very end of the grace has ended: steps come before it. */
  endGraces(now: number, hands: FleetHands): void {
    this.slots.forEach((s, r) => {
      if (s.stage === Stage.draining && s.lostAt <= now) this.lose(r, now, hands, 'grace-over')
    })
  }

  /** A number is free again, and its place on the node. */
  private vacate(r: number, now: number, cause: Cause): void {
    const s = this.slots[r]
    this.kept.turned(r, false, now)
    this.starts.reads.leave('weights', r, now)
    const node: Node | undefined = this.nodes.all[s.node]
    this.nodes.leave(node, now)
    if (node && this.leavesCopy(s, cause)) node.unloaded++
    this.starts.tell(r, Stage.none, now, cause)
    this.all[r] = emptySlot(s.lives + 1)
  }

  /** Whoever ends without breaking stays as a copy without its model, where copies do; as does one that was to load it again. */
  private leavesCopy({ stage, reloads }: Slot, cause: Cause): boolean {
    const drained = stage === Stage.draining && (cause === 'all-done' || cause === 'grace-over')
    return (this.rules.nodes.unloads ?? false) && (drained || (reloads && cause === 'fewer-wanted'))
  }

  private becomeReady(r: number, now: number, hands: FleetHands): void {
    const { losses, seed } = this.rules
    const s = this.slots[r]
    s.giveUpAt = Infinity
    const mean = losses.replicaMeanSeconds
    s.lostAt = mean === Infinity ? Infinity : now - mean * ln(new RandomStream(seed, 'replica', `${r} ${s.lives}`).open())
    if (this.ready++ === 0) this.idleClock.beginAnew(now)
    hands.open(r)
  }
}
