import type { Requests } from '../demand/requests.ts'
import { BatchReplicas } from './batchReplicas.ts'
import { Floor } from './floor.ts'
import type { MissWatch } from './missWatch.ts'
import { Outcome, RejectCause } from './outcome.ts'
import { Patience } from './patience.ts'
import type { RunRecord } from './record.ts'
import type { Replicas } from './replicas.ts'
import { INSTANT_SECONDS, type ServiceRules } from './rules.ts'
import { TokenReplicas } from './tokenReplicas.ts'

/**
 * Simulates one service. Order at one instant: replicas become ready, requests arrive, steps end and begin (by
 * replica number), requests lose patience. Everything up to and including the horizon happens.
 *
 * @param watch ends the run early when one of its promises is beyond repair
 */
export function simulate(requests: Requests, rules: ServiceRules, watch?: MissWatch): RunRecord {
  return new Simulation(requests, rules, watch).run()
}

class Simulation {
  private readonly floor: Floor
  private readonly replicas: Replicas
  private readonly patience: Patience
  private readonly readyOrder: Int32Array
  private readyCount = 0
  private arrived = 0

  constructor(requests: Requests, rules: ServiceRules, watch: MissWatch | undefined) {
    this.floor = new Floor(requests, rules, watch)
    const { profile } = rules
    this.replicas = profile.kind === 'token' ? new TokenReplicas(this.floor, profile) : new BatchReplicas(this.floor, profile)
    this.patience = new Patience(requests, rules.patienceSeconds)
    this.readyOrder = Int32Array.from(rules.readyAtSeconds.keys()).sort((a, b) => rules.readyAtSeconds[a] - rules.readyAtSeconds[b] || a - b)
  }

  run(): RunRecord {
    const { floor, replicas, patience } = this
    const { requests, clock, watch, record } = floor
    const { horizonSeconds } = floor.rules
    let nextReady = this.nextReadyTime()
    let nextDeadline = patience.next()
    let now = 0
    for (;;) {
      const nextArrival = this.arrived < requests.count ? requests.at[this.arrived] : Infinity
      const nextStep = clock.firstTime()
      const soonest = Math.min(nextReady, nextArrival, nextStep, nextDeadline)
      if (soonest > horizonSeconds || soonest === Infinity) break
      record.events++
      if (nextReady <= soonest) {
        now = nextReady
        this.becomeReady(now)
        nextReady = this.nextReadyTime()
      } else if (nextArrival <= nextStep + INSTANT_SECONDS && nextArrival <= nextDeadline) {
        now = nextArrival
        this.route(this.arrived++, now)
      } else if (nextStep <= nextDeadline) {
        now = nextStep
        floor.beginning = 0
        replicas.boundary(clock.first(), now)
      } else {
        now = nextDeadline
        this.runOut(patience.take(now), now)
        nextDeadline = patience.next()
      }
      if (watch !== undefined && watch.broken >= 0) {
        record.stopped = true
        break
      }
    }
    record.endSeconds = record.stopped ? now : horizonSeconds
    return record
  }

  private nextReadyTime(): number {
    return this.readyCount < this.readyOrder.length ? this.floor.rules.readyAtSeconds[this.readyOrder[this.readyCount]] : Infinity
  }

  /** All replicas that become ready now do so first; then those who waited are routed in order. */
  private becomeReady(now: number): void {
    const { floor } = this
    while (this.nextReadyTime() <= now) floor.busy.open(this.readyOrder[this.readyCount++])
    const waiting = floor.lines.length[floor.sharedLine]
    for (let i = 0; i < waiting; i++) {
      const request = floor.lines.peek(floor.sharedLine)
      const replica = floor.sharesQueue ? this.withRoom(request) : floor.busy.first()
      if (replica < 0) return
      floor.takeShared(replica)
      this.replicas.wake(replica, now, false)
      if (floor.sharesQueue) this.replicas.sharedHeadChanged(-1, now)
    }
  }

  private route(request: number, now: number): void {
    const { floor, replicas } = this
    if (replicas.tooLarge(request)) return floor.reject(request, now, RejectCause.tooLarge)
    const replica = this.choose(request)
    const atOnce = replica >= 0 && replicas.startsAtOnce(replica)
    if (!atOnce && floor.waiting - floor.beginning >= floor.rules.queueLimit) return floor.reject(request, now, RejectCause.queueFull)
    if (replica < 0) return floor.waitShared(request)
    floor.bind(replica, request)
    if (atOnce) floor.beginning += this.completes(replica)
    replicas.wake(replica, now, false)
  }

  /** How many more begin at once because a request was bound: itself, or the whole batch that it fills. */
  private completes(replica: number): number {
    const { profile } = this.floor.rules
    return profile.kind === 'batch' && profile.windowSeconds > 0 ? this.floor.lines.length[replica] : 1
  }

  private choose(request: number): number {
    const { floor } = this
    if (!floor.sharesQueue) return floor.busy.first()
    return floor.sharedWaiting() ? -1 : this.withRoom(request)
  }

  /** The least busy ready replica that has room, or −1. The least busy of all has it nearly always. */
  private withRoom(request: number): number {
    const { busy, replicas } = this.floor
    const first = busy.first()
    if (first < 0 || this.replicas.hasRoom(first, request)) return first
    let best = -1
    for (let r = 0; r < replicas; r++) {
      if (!busy.isOpen(r) || !this.replicas.hasRoom(r, request)) continue
      if (best < 0 || busy.of(r) < busy.of(best)) best = r
    }
    return best
  }

  private runOut(request: number, now: number): void {
    const { floor, replicas } = this
    const { record, lines } = floor
    const waits = record.outcome[request] === Outcome.unfinished && Number.isNaN(record.start[request])
    if (!waits) return
    const line = record.replica[request] < 0 ? floor.sharedLine : record.replica[request]
    floor.lose(request, now, Outcome.abandoned)
    lines.left(line)
    floor.waiting--
    if (line === floor.sharedLine) return replicas.sharedHeadChanged(-1, now)
    floor.busy.add(line, -1)
    replicas.wake(line, now, true)
  }
}
