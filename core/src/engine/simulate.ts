import { follows, type Requests } from '../demand/requests.ts'
import { BatchReplicas } from './batchReplicas.ts'
import { Floor } from './floor.ts'
import { InterleavedPrompts } from './interleavedPrompts.ts'
import type { Observers } from './observers.ts'
import { Outcome, RejectCause } from './outcome.ts'
import { RateLimits } from './rateLimits.ts'
import type { RunRecord } from './record.ts'
import type { Replicas } from './replicas.ts'
import { routerOf, type Router } from './router.ts'
import { INSTANT_SECONDS, type ServiceRules } from './rules.ts'
import { SharedReplicas } from './sharedReplicas.ts'
import { WholePrompts } from './wholePrompts.ts'

/**
 * Simulates one service. Order at one instant: replicas become ready, requests arrive, steps end and begin (by
 * replica number), requests lose patience. Everything up to and including the horizon happens.
 */
export function simulate(requests: Requests, rules: ServiceRules, observers: Observers = {}): RunRecord {
  return new Simulation(requests, rules, observers).run()
}

function replicasOf(floor: Floor): Replicas {
  const { profile } = floor.rules
  if (profile.kind === 'batch') return new BatchReplicas(floor, profile)
  if (profile.kind === 'shared') return new SharedReplicas(floor, profile)
  return profile.prompts === 'whole' ? new WholePrompts(floor, profile) : new InterleavedPrompts(floor, profile)
}

class Simulation {
  private readonly floor: Floor
  private readonly replicas: Replicas
  private readonly router: Router
  private readonly limits: RateLimits
  private readonly readyOrder: Int32Array
  private readyCount = 0
  private arrived = 0

  constructor(requests: Requests, rules: ServiceRules, observers: Observers) {
    this.floor = new Floor(requests, rules, observers)
    this.replicas = replicasOf(this.floor)
    this.router = routerOf(rules.routing, this.floor.busy, rules.seed)
    this.limits = new RateLimits(rules.classes)
    this.readyOrder = Int32Array.from(rules.readyAtSeconds.keys()).sort((a, b) => rules.readyAtSeconds[a] - rules.readyAtSeconds[b] || a - b)
    this.skipFollowers()
  }

  run(): RunRecord {
    const { floor, replicas } = this
    const { clock, record, comings, patience } = floor
    const { watch } = floor.observers
    const { horizonSeconds } = floor.rules
    let nextReady = this.nextReadyTime()
    let onTheirOwn = this.nextOwnTime()
    let now = 0
    let events = 0
    for (;;) {
      const coming = comings.firstTime()
      const nextArrival = coming < onTheirOwn ? coming : onTheirOwn
      const nextStep = clock.firstTime()
      const nextDeadline = patience.matters ? patience.next() : Infinity
      const soonest = Math.min(nextReady, nextArrival, nextStep, nextDeadline)
      if (soonest > horizonSeconds || soonest === Infinity) break
      events++
      if (nextReady <= soonest + INSTANT_SECONDS) {
        now = nextReady
        this.becomeReady(now)
        nextReady = this.nextReadyTime()
      } else if (nextArrival <= Math.min(nextStep, nextDeadline) + INSTANT_SECONDS) {
        now = nextArrival
        this.route(this.nextToArrive(onTheirOwn), now)
        onTheirOwn = this.nextOwnTime()
      } else if (nextStep <= nextDeadline + INSTANT_SECONDS) {
        now = nextStep
        floor.beginning = 0
        replicas.boundary(clock.first(), now)
      } else {
        now = nextDeadline
        this.runOut(patience.take(now), now)
      }
      if (watch !== undefined && watch.broken >= 0) {
        record.stopped = true
        break
      }
    }
    record.events = events
    record.endSeconds = record.stopped ? now : horizonSeconds
    return record
  }

  /** Takes whoever arrives next; at one time the lower number first. */
  private nextToArrive(onTheirOwn: number): number {
    const { comings } = this.floor
    const coming = comings.firstTime()
    if (coming < onTheirOwn || (coming === onTheirOwn && comings.first() < this.arrived)) return comings.pop()
    const request = this.arrived++
    this.skipFollowers()
    return request
  }

  private skipFollowers(): void {
    const { requests } = this.floor
    if (requests.chain === undefined) return
    while (this.arrived < requests.count && follows(requests, this.arrived)) this.arrived++
  }

  private nextOwnTime(): number {
    const { requests } = this.floor
    return this.arrived < requests.count ? requests.at[this.arrived] : Infinity
  }

  private nextReadyTime(): number {
    return this.readyCount < this.readyOrder.length ? this.floor.rules.readyAtSeconds[this.readyOrder[this.readyCount]] : Infinity
  }

  /** All replicas that become ready now do so first; then those who waited are routed in order. */
  private becomeReady(now: number): void {
    const { floor } = this
    while (this.nextReadyTime() <= now) {
      const replica = this.readyOrder[this.readyCount++]
      floor.busy.open(replica)
      this.router.open(replica)
    }
    const waiting = floor.lines.length[floor.sharedLine]
    for (let i = 0; i < waiting; i++) {
      const request = floor.lines.peek(floor.sharedLine)
      const replica = floor.sharesQueue ? this.withRoom(request, now) : this.router.choose(request, floor.attempt(request))
      if (replica < 0) return
      floor.takeShared(replica)
      this.replicas.wake(replica, now, false)
      if (floor.sharesQueue) this.replicas.sharedHeadChanged(-1, now)
    }
  }

  private route(request: number, now: number): void {
    const { floor, replicas } = this
    floor.arrive(request, now)
    if (replicas.tooLarge(request)) return floor.turnAway(request, now, RejectCause.tooLarge)
    if (this.limits.matter && !this.limits.admits(floor.requests, request, now)) return floor.turnAway(request, now, RejectCause.rateLimited)
    const replica = this.choose(request, now)
    const begin = replica < 0 ? 0 : replicas.beginsAtOnce(replica, request)
    if (begin === 0 && floor.waiting - floor.beginning >= floor.rules.queueLimit) return floor.turnAway(request, now, RejectCause.queueFull)
    if (floor.patience.matters) floor.patience.push(floor.requests.classIndex[request], request)
    if (replica < 0) return floor.waitShared(request)
    floor.bind(replica, request)
    floor.beginning += begin
    replicas.wake(replica, now, false)
  }

  private choose(request: number, now: number): number {
    const { floor } = this
    if (!floor.sharesQueue) return this.router.choose(request, floor.attempt(request))
    return floor.sharedWaitingBefore(request) ? -1 : this.withRoom(request, now)
  }

  /** The least busy ready replica that has room, or −1. The least busy of all has it nearly always. */
  private withRoom(request: number, now: number): number {
    const { busy, replicas } = this.floor
    const first = busy.first()
    if (first < 0 || this.replicas.hasRoom(first, request, now)) return first
    let best = -1
    for (let r = 0; r < replicas; r++) {
      if (!busy.isOpen(r) || (best >= 0 && busy.of(r) >= busy.of(best)) || !this.replicas.hasRoom(r, request, now)) continue
      best = r
    }
    return best
  }

  private runOut(request: number, now: number): void {
    const { floor, replicas } = this
    const { record, lines } = floor
    if (record.outcome[request] !== Outcome.unfinished) throw new Error('a request that ended still had patience to lose')
    const line = record.replica[request] < 0 ? floor.sharedLine : record.replica[request]
    lines.remove(line, request)
    floor.waiting--
    floor.turnAway(request, now, RejectCause.impatient)
    if (line === floor.sharedLine) return replicas.sharedHeadChanged(-1, now)
    floor.busy.add(line, -1)
    replicas.wake(line, now, true)
  }
}
