import type { WishCause } from './cause.ts'
import type { Controller, HostCurve, Observation } from './controller.ts'
import type { FleetHands, FleetLife, Gauge, WaitClocks } from './fleet.ts'
import { GaugeHistory } from './gaugeHistory.ts'
import { IdleClock } from './idleClock.ts'
import { LivingReplicas } from './livingReplicas.ts'
import { MachineChanges } from './machineChanges.ts'
import { NodePool } from './nodes.ts'
import type { Begin, LifeRecord, LossRules, NodeRules, StartRules } from './startRules.ts'

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
  readonly record: LifeRecord = { events: [], nodes: [], stopped: [], fetched: [], wanted: [], readings: { seconds: [], values: [] } }
  readonly hostCurves: readonly HostCurve[]
  private readonly controller: Controller
  private readonly nodes: NodePool
  private readonly replicas: LivingReplicas
  private readonly machines: MachineChanges
  private readonly idleClock: IdleClock
  private readonly history: GaugeHistory
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
  private readings = 0
  /** something was asked for that is not done yet, from this time on */
  private dirty = 0
  /** the next of the changes that no request moves */
  private unmoved = 0
  /** when the first grace of those that drain is over */
  private graceEnd = Infinity

  /** @param begin whether what there is at the start is ready, has to start up, is stopped and has to come back, or is unloaded */
  constructor(start: StartRules, nodeRules: NodeRules, losses: LossRules, controller: Controller, seed: number, begin: Begin = 'nothing') {
    this.controller = controller
    this.hostCurves = controller.hostCurves ?? []
    this.history = new GaugeHistory(LONGEST_WINDOW_SECONDS, this.hostCurves.length)
    this.slots = Math.max(1, controller.most) * 2
    this.refusesWhileAsleep = controller.idle?.firstCaller === 'refuse'
    this.onCall = controller.onCall !== undefined
    this.idleClock = new IdleClock(controller)
    this.nodes = new NodePool(nodeRules, start, losses, seed)
    const keptSeconds = controller.onCall?.keptSeconds ?? Infinity
    const rules = { start, nodes: nodeRules, losses, keptSeconds, seed }
    this.replicas = new LivingReplicas(rules, this.slots, this.nodes, this.idleClock, this.record)
    this.machines = new MachineChanges(losses, this.nodes, this.replicas)
    this.want(controller.initial, 0, 'start')
    if (begin === 'running') this.replicas.alreadyRunning(this.wanted)
    else if (begin !== 'nothing') this.nodes[begin](Math.ceil(this.wanted / nodeRules.replicasPerNode))
  }

  /**
   * The next change of any kind. Slots and nodes are looked through after changes only, which are rare beside requests; what requests move
   * is asked for.
   */
  nextChange(): number {
    if (this.dirty < Infinity) return this.dirty
    if (this.onCall) return Math.min(this.unmoved, this.replicas.kept.nextEnd())
    return this.controller.idle ? Math.min(this.unmoved, this.idleEnd()) : this.unmoved
  }

  private idleEnd(): number {
    return this.idleClock.end(this.wanted, this.replicas.ready)
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
    this.history.push(gauge)
    const scheduled = this.idleClock.read(gauge.now)
    // A service that sleeps is woken by its callers and by its schedule, not by its metrics.
    if (this.controller.idle && this.wanted === 0) return this.want(scheduled, gauge.now, 'schedule')
    const { observed } = this
    observed.now = gauge.now
    observed.ready = this.replicas.ready
    observed.current = this.replicas.current
    const { replicas, cause, read } = this.controller.wish(observed)
    if (read !== undefined) {
      this.record.readings.seconds.push(gauge.now)
      this.record.readings.values.push(read)
    }
    this.want(this.controller.idle ? Math.max(1, replicas) : replicas, gauge.now, cause)
  }

  private endGraces(now: number, hands: FleetHands): void {
    this.replicas.endGraces(now, hands)
    this.graceEnd = Infinity
    this.soil(now)
  }

  arrived(now: number): void {
    this.idleClock.somebodyCame()
    if (this.onCall) return
    if (this.wanted === 0) this.want(1, now, 'first-caller')
  }

  idle(now: number): void {
    this.idleClock.nobodyIsThere(now)
  }

  comingRoom(): number {
    const one = this.wanted < this.controller.most ? 1 : 0
    return this.coming() + one * (this.controller.onCall?.perReplica ?? 0)
  }

  /** Callers that have a place on what is on its way. */
  private coming(): number {
    return (this.wanted - this.replicas.ready) * (this.controller.onCall?.perReplica ?? 0)
  }

  /** One more for whoever finds no room among those that are on their way. */
  crowded(waiting: number, now: number): void {
    if (waiting > this.coming()) this.want(this.wanted + 1, now, 'caller-without-room')
  }

  turned(r: number, empty: boolean, now: number): void {
    this.replicas.turned(r, empty, now)
  }

  emptied(r: number, now: number): void {
    if (this.replicas.emptied(r, now)) this.soil(now)
  }

  private want(replicas: number, now: number, cause: WishCause): void {
    const next = Math.max(0, Math.min(this.controller.most, replicas))
    if (next === this.wanted) return
    this.wanted = next
    this.record.wanted.push({ seconds: now, replicas: next, cause })
    this.soil(now)
  }

  /** Something is to be done from now on. */
  private soil(now: number): void {
    this.dirty = Math.min(this.dirty, now)
  }

  happen(now: number, hands: FleetHands): void {
    this.replicas.runClocks(now)
    this.machines.happen(now, hands)
    this.replicas.loseBroken(now, hands)
    if (this.onCall) this.letEmptyGo(now, hands)
    this.wakeAndSleep(now)
    this.dirty = Infinity
    this.replicas.starts.goOn(now, hands)
    this.reconcile(now, hands)
    // A machine that was told it goes has room for nobody; once it is given back another may be had in its place.
    if (this.machines.settle(now)) this.reconcile(now, hands)
    const { change, graceEnd } = this.replicas.next()
    this.graceEnd = graceEnd
    this.unmoved = Math.min(change, this.machines.next(), this.replicas.starts.reads.nextEnd(), this.idleClock.nextCall())
  }

  /** Who was kept for long enough without a call goes. */
  private letEmptyGo(now: number, hands: FleetHands): void {
    const { kept } = this.replicas
    for (let r = kept.takeEnded(now); r >= 0; r = kept.takeEnded(now)) {
      this.want(this.wanted - 1, now, 'nobody-called')
      this.replicas.letGo(r, now, hands)
    }
  }

  private wakeAndSleep(now: number): void {
    if (this.idleClock.takeCall(now) && this.wanted === 0) this.want(1, now, 'keep-awake-call')
    if (this.idleEnd() <= now) this.want(0, now, 'nobody-came')
  }

  /** Brings as many replicas on their way as are wanted, and sends home whom nobody wants. */
  private reconcile(now: number, hands: FleetHands): void {
    const { replicas } = this
    replicas.ask(this.wanted - replicas.current, now, this.record.wanted.at(-1)?.cause ?? 'start')
    replicas.sendHome(replicas.current - this.wanted, now, hands)
    replicas.place(now, hands)
  }

  clocks(now: number): WaitClocks {
    return this.replicas.clocks(now)
  }

  end(now: number): void {
    this.record.nodes = this.nodes.paid(now)
    this.record.stopped = this.nodes.stoppedDisks(now)
  }
}
