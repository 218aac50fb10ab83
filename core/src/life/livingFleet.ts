import { ln } from '../arithmetic/sameBits.ts'
import { RandomStream } from '../random/stream.ts'
import type { Cause, LossCause, WishCause } from './cause.ts'
import type { Controller, HostCurve, Observation } from './controller.ts'
import { Drills } from './drills.ts'
import type { FleetHands, FleetLife, Gauge, WaitClocks } from './fleet.ts'
import { GaugeHistory } from './gaugeHistory.ts'
import { NodePool, type Node } from './nodes.ts'
import { KeptEmpty } from './keptEmpty.ts'
import { currentOf, emptySlot, leastMissed, SlotClocks, type Slot } from './slots.ts'
import { Stage, type Begin, type LifeRecord, type LossRules, type NodeRules, type StartRules } from './startRules.ts'
import { StartUps } from './startUps.ts'

/** Windows longer than this are not remembered. */
const LONGEST_WINDOW_SECONDS = 3600

/**
 * A fleet that grows and shrinks (docs/model.md, 7): replicas start up stage by stage on nodes that come and
 * go, weights are read from sources that simultaneous starts share, a controller reads and wishes, replicas and nodes are
 * lost. Everything that happens is recorded with its time and cause.
 */
export class LivingFleet implements FleetLife {
  readonly moves = true
  readonly slots: number
  readonly refusesWhileAsleep: boolean
  readonly onCall: boolean
  private readonly kept: KeptEmpty
  readonly record: LifeRecord = { events: [], nodes: [], stopped: [], fetched: [], wanted: [], readings: { seconds: [], values: [] } }
  private readonly nodeRules: NodeRules
  private readonly losses: LossRules
  private readonly controller: Controller
  private readonly seed: number
  private readonly replicas: Slot[]
  private readonly nodes: NodePool
  private readonly starts: StartUps
  private readonly history: GaugeHistory
  readonly hostCurves: readonly HostCurve[]
  /** what the controller sees, at the last reading */
  private readonly observed: Observation = {
    now: 0,
    ready: 0,
    current: 0,
    inFlight: (w) => this.history.mean('inFlightArea', w),
    waiting: (w) => this.history.mean('waitingArea', w),
    busy: (w) => this.history.mean('busyArea', w),
    arrivalsPerSecond: (w) => this.history.mean('arrivals', w),
    hostShare: (curve, w) => this.history.hostMean(curve, w),
  }
  private wanted = 0
  /** something was asked for that is not done yet, from this time on */
  private dirty = 0
  private readings = 0
  private readAt = 0
  /** a window of the schedule keeps a service awake that would sleep */
  private keptAwake = false
  /** when the first grace of those that drain is over */
  private graceEnd = Infinity
  /** why those are missed that are to be replaced */
  private missed: LossCause[] = []
  private idleSince = 0
  private ping: number
  private readonly drills: Drills
  private ready = 0
  private readonly waits = new SlotClocks()

  /** @param begin whether what there is at the start is ready, has to start up, is stopped and has to come back, or is unloaded */
  constructor(start: StartRules, nodeRules: NodeRules, losses: LossRules, controller: Controller, seed: number, begin: Begin = 'nothing') {
    this.nodeRules = nodeRules
    this.losses = losses
    this.drills = new Drills(losses)
    this.hostCurves = controller.hostCurves ?? []
    this.history = new GaugeHistory(LONGEST_WINDOW_SECONDS, this.hostCurves.length)
    this.nodes = new NodePool(nodeRules, start, losses, seed)
    this.controller = controller
    this.seed = seed
    this.slots = Math.max(1, controller.most) * 2
    this.refusesWhileAsleep = controller.idle?.firstCaller === 'refuse'
    this.onCall = controller.onCall !== undefined
    this.kept = new KeptEmpty(this.slots, controller.onCall?.keptSeconds ?? Infinity)
    this.replicas = Array.from({ length: this.slots }, () => emptySlot(0))
    this.starts = new StartUps(start, this.replicas, this.nodes, this.record, (r, now, hands) => this.becomeReady(r, now, hands))
    this.ping = controller.nextPing(0)
    this.want(controller.initial, 0, 'start')
    if (begin === 'running') this.alreadyRunning()
    else if (begin !== 'nothing') this.nodes[begin](Math.ceil(this.wanted / nodeRules.replicasPerNode))
  }

  /**
   * The next change of any kind. Slots and nodes are looked through after changes only, which are rare beside requests; what requests move
   * is asked for.
   */
  nextChange(): number {
    if (this.dirty < Infinity) return this.dirty
    if (this.onCall) return Math.min(this.unmoved, this.kept.nextEnd())
    return this.controller.idle ? Math.min(this.unmoved, this.idleEnd()) : this.unmoved
  }

  /** the next of the changes that no request moves */
  private unmoved = 0

  private soonestUnmoved(): number {
    let next = Math.min(this.nodes.next(), this.starts.reads.nextEnd(), this.ping, this.drills.next())
    this.graceEnd = Infinity
    for (const s of this.replicas) {
      if (s.stage === Stage.draining) this.graceEnd = Math.min(this.graceEnd, s.lostAt)
      else if (s.stage !== Stage.none) next = Math.min(next, s.due, s.giveUpAt, s.lostAt)
    }
    return next
  }

  /** Who is woken is not sent to sleep before anybody was ready. */
  private idleEnd(): number {
    const { idle } = this.controller
    if (!idle || this.wanted === 0 || this.ready === 0 || this.keptAwake) return Infinity
    // A window that kept it awake ends with a reading.
    return Math.max(this.idleSince + idle.seconds, this.readAt)
  }

  nextReading(): number {
    return Math.min(this.graceEnd, this.nextScaling())
  }

  private nextScaling(): number {
    return (this.readings + 1) * this.controller.intervalSeconds
  }

  read(gauge: Gauge, hands: FleetHands): void {
    if (this.graceEnd < this.nextScaling()) return this.endGraces(gauge.now, hands)
    this.readings++
    this.readAt = gauge.now
    this.history.push(gauge)
    const { observed, controller } = this
    if (controller.idle) {
      this.keptAwake = (controller.scheduled?.(gauge.now) ?? 0) > 0
      // A service that sleeps is woken by its callers and by its schedule, not by its metrics.
      if (this.wanted === 0) return this.keptAwake ? this.want(controller.scheduled?.(gauge.now) ?? 0, gauge.now, 'schedule') : undefined
    }
    observed.now = gauge.now
    observed.ready = this.ready
    observed.current = currentOf(this.replicas)
    const { replicas, cause, read } = this.controller.wish(observed)
    if (read !== undefined) {
      this.record.readings.seconds.push(gauge.now)
      this.record.readings.values.push(read)
    }
    this.want(this.controller.idle ? Math.max(1, replicas) : replicas, gauge.now, cause)
  }

  /** Whoever ends at the very end of the grace has ended: steps come before it. */
  private endGraces(now: number, hands: FleetHands): void {
    this.replicas.forEach((s, r) => {
      if (s.stage === Stage.draining && s.lostAt <= now) this.lose(r, now, hands, 'grace-over')
    })
    this.graceEnd = Infinity
    this.dirty = Math.min(this.dirty, now)
  }

  arrived(now: number): void {
    this.idleSince = Infinity
    if (this.onCall) return
    if (this.wanted === 0) this.want(1, now, 'first-caller')
  }

  idle(now: number): void {
    if (this.idleSince === Infinity) this.idleSince = now
  }

  comingRoom(): number {
    const one = this.wanted < this.controller.most ? 1 : 0
    return this.coming() + one * (this.controller.onCall?.perReplica ?? 0)
  }

  /** Callers that have a place on what is on its way. */
  private coming(): number {
    return (this.wanted - this.ready) * (this.controller.onCall?.perReplica ?? 0)
  }

  /** One more for whoever finds no room among those that are on their way. */
  crowded(waiting: number, now: number): void {
    if (waiting > this.coming()) this.want(this.wanted + 1, now, 'caller-without-room')
  }

  turned(r: number, empty: boolean, now: number): void {
    if (this.replicas[r].stage === Stage.ready) this.kept.turned(r, empty, now)
  }

  /** Who was kept for long enough without a call goes. */
  private letEmptyGo(now: number, hands: FleetHands): void {
    for (let r = this.kept.takeEnded(now); r >= 0; r = this.kept.takeEnded(now)) {
      this.want(this.wanted - 1, now, 'nobody-called')
      this.drain(r, now, hands, 'nobody-called', now)
      this.vacate(r, now, 'nobody-called')
    }
  }

  private want(replicas: number, now: number, cause: WishCause): void {
    const next = Math.max(0, Math.min(this.controller.most, replicas))
    if (next === this.wanted) return
    this.wanted = next
    this.record.wanted.push({ seconds: now, replicas: next, cause })
    this.dirty = Math.min(this.dirty, now)
  }

  happen(now: number, hands: FleetHands): void {
    this.waits.run(this.replicas, now)
    this.dirty = Infinity
    this.loseNodes(now, hands)
    this.runDrills(now, hands)
    this.replicas.forEach((s, r) => {
      if (s.lostAt <= now && s.stage !== Stage.draining) this.lose(r, now, hands, 'fault')
    })
    if (this.onCall) this.letEmptyGo(now, hands)
    this.wakeAndSleep(now)
    this.starts.goOn(now, hands)
    this.reconcile(now, hands)
    // A machine that was told it goes has room for nobody; once it is given back another may be had in its place.
    const given = this.nodes.settle(now)
    for (const n of given) this.starts.reads.leave('image', n.number, now)
    if (given.length > 0) this.reconcile(now, hands)
    this.unmoved = this.soonestUnmoved()
  }

  clocks(now: number): WaitClocks {
    return this.waits.read(this.replicas, now)
  }

  /**
   * Brings as many replicas on their way as are wanted, and sends home whom nobody wants: first those that are not ready, the last ones
   * first.
   */
  private reconcile(now: number, hands: FleetHands): void {
    for (let missing = this.wanted - currentOf(this.replicas); missing > 0; missing--) {
      const r = this.replicas.findIndex((s) => s.stage === Stage.none)
      if (r < 0) break
      this.replicas[r] = { ...emptySlot(this.replicas[r].lives), stage: Stage.unplaced, first: now === 0 }
      const lost = this.missed.shift()
      this.starts.tell(r, Stage.unplaced, now, lost === undefined ? (this.record.wanted.at(-1)?.cause ?? 'start') : { inPlaceOf: lost })
    }
    this.missed = []
    for (let spare = currentOf(this.replicas) - this.wanted; spare > 0; spare--) this.sendHome(leastMissed(this.replicas), now, hands)
    this.replicas.forEach((s, r) => {
      if (s.stage === Stage.unplaced) this.starts.place(r, now, hands)
    })
  }

  private sendHome(r: number, now: number, hands: FleetHands): void {
    if (this.replicas[r].stage === Stage.ready) return this.drain(r, now, hands, 'fewer-wanted', now + this.nodeRules.graceSeconds)
    this.vacate(r, now, 'fewer-wanted')
  }

  private drain(r: number, now: number, hands: FleetHands, cause: Cause, until: number): void {
    const s = this.replicas[r]
    if (s.stage !== Stage.ready) return
    this.ready--
    s.stage = Stage.draining
    s.lostAt = until
    this.starts.tell(r, Stage.draining, now, cause)
    hands.drain(r)
  }

  emptied(r: number, now: number): void {
    if (this.replicas[r].stage !== Stage.draining) return
    this.vacate(r, now, 'all-done')
    this.dirty = Math.min(this.dirty, now)
  }

  private lose(r: number, now: number, hands: FleetHands, cause: LossCause | 'grace-over'): void {
    const s = this.replicas[r]
    if (s.stage === Stage.none) return
    if (s.stage === Stage.ready) this.ready--
    const serving = s.stage === Stage.ready || s.stage === Stage.draining
    if (cause !== 'grace-over' && s.stage !== Stage.draining) this.missed.push(cause)
    this.vacate(r, now, cause)
    if (serving) hands.lose(r)
  }

  /** A number is free again, and its place on the node. */
  private vacate(r: number, now: number, cause: Cause): void {
    const s = this.replicas[r]
    this.kept.turned(r, false, now)
    this.starts.reads.leave('weights', r, now)
    const node: Node | undefined = this.nodes.all[s.node]
    this.nodes.leave(node, now)
    if (node && this.leavesCopy(s, cause)) node.unloaded++
    this.starts.tell(r, Stage.none, now, cause)
    this.replicas[r] = emptySlot(s.lives + 1)
  }

  /** Whoever ends without breaking stays as a copy without its model, where copies do; as does one that was to load it again. */
  private leavesCopy({ stage, reloads }: Slot, cause: Cause): boolean {
    const drained = stage === Stage.draining && (cause === 'all-done' || cause === 'grace-over')
    return (this.nodeRules.unloads ?? false) && (drained || (reloads && cause === 'fewer-wanted'))
  }

  private becomeReady(r: number, now: number, hands: FleetHands): void {
    const s = this.replicas[r]
    s.giveUpAt = Infinity
    const mean = this.losses.replicaMeanSeconds
    s.lostAt = mean === Infinity ? Infinity : now - mean * ln(new RandomStream(this.seed, 'replica', `${r} ${s.lives}`).open())
    if (this.ready++ === 0 && this.idleSince !== Infinity) this.idleSince = now
    hands.open(r)
  }

  private runDrills(now: number, hands: FleetHands): void {
    for (let step = this.drills.takeDue(now); step; step = this.drills.takeDue(now)) {
      const { what, number, lostAt } = step
      if (what === 'replica' && number < this.slots) this.lose(number, now, hands, 'drill')
      const node = what === 'replica' ? undefined : this.nodes.all.at(number)
      if (what === 'notice' && node?.state === 'there') {
        node.lostAt = Math.min(node.lostAt, lostAt)
        this.giveNotice(node, now, hands)
      }
      if (what === 'node' && node) this.endNode(node, now, hands, 'drill')
    }
  }

  /** A machine that was told it goes: its replicas drain, or give their start-up up, and others are asked for. */
  private giveNotice(n: Node, now: number, hands: FleetHands): void {
    n.state = 'noticed'
    n.due = Infinity
    this.replicas.forEach((s, r) => {
      if (s.node !== n.number || s.stage === Stage.none || s.stage === Stage.draining) return
      this.missed.push('machine-noticed')
      if (s.stage === Stage.ready) this.drain(r, now, hands, 'machine-noticed', Math.min(n.lostAt, now + this.nodeRules.graceSeconds))
      else this.vacate(r, now, 'machine-noticed')
    })
  }

  /** What there is at the start is ready on machines that are there, with image and weights on them. */
  private alreadyRunning(): void {
    for (let r = 0; r < this.wanted; r++) {
      const node = this.nodes.running()
      if (!node) break
      this.nodes.take(node)
      this.replicas[r] = { ...emptySlot(0), stage: Stage.warmup, node: node.number, due: 0, first: true }
    }
  }

  private loseNodes(now: number, hands: FleetHands): void {
    for (const n of this.nodes.live) {
      if (n.state === 'coming' && n.due <= now) this.arriveNode(n, now, hands)
      if (n.state === 'there' && n.due <= now) this.giveNotice(n, now, hands)
      if (n.lostAt <= now && n.state !== 'gone') this.endNode(n, now, hands, 'machine-lost')
    }
  }

  private arriveNode(n: Node, now: number, hands: FleetHands): void {
    this.nodes.arrive(n, now)
    this.replicas.forEach((s, r) => {
      if (s.node === n.number && s.stage === Stage.machine) this.starts.enter(r, Stage.image, now, hands)
    })
  }

  private endNode(n: Node, now: number, hands: FleetHands, cause: LossCause): void {
    if (n.state === 'gone') return
    this.replicas.forEach((s, r) => {
      if (s.node === n.number) this.lose(r, now, hands, cause)
    })
    this.starts.reads.leave('image', n.number, now)
    this.nodes.end(n, now)
  }

  private wakeAndSleep(now: number): void {
    if (this.ping <= now) {
      if (this.wanted === 0) this.want(1, now, 'keep-awake-call')
      if (this.idleSince !== Infinity) this.idleSince = now
      this.ping = this.controller.nextPing(now)
    }
    if (this.idleEnd() <= now) this.want(0, now, 'nobody-came')
    this.dirty = Infinity
  }

  end(now: number): void {
    this.record.nodes = this.nodes.paid(now)
    this.record.stopped = this.nodes.stoppedDisks(now)
  }
}
