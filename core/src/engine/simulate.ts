import type { Requests } from '../demand/requests.ts'
import { FixedFleet, type FleetLife, type Gauge } from '../life/fleet.ts'
import { BatchReplicas } from './batchReplicas.ts'
import { Doors } from './doors.ts'
import { Floor } from './floor.ts'
import { InterleavedPrompts } from './interleavedPrompts.ts'
import type { Observers } from './observers.ts'
import { Outcome, RejectCause } from './outcome.ts'
import { OwnArrivals } from './ownArrivals.ts'
import { RateLimits } from './rateLimits.ts'
import type { RunRecord } from './record.ts'
import type { Replicas } from './replicas.ts'
import { routerOf, type Router } from './router.ts'
import type { RunMemory } from './runMemory.ts'
import { INSTANT_SECONDS, type ServiceRules } from './rules.ts'
import { SharedReplicas } from './sharedReplicas.ts'
import { sharedCosts, soldCosts } from './sideBySide.ts'
import { WholePrompts } from './wholePrompts.ts'

/**
 * Simulates one service. Order at one instant: replicas come and go, requests arrive, steps end and begin (by
 * replica number), requests lose patience, the scaler reads. Everything up to and including the horizon happens.
 *
 * @param memory where to write, for who does not keep the record beyond the next run; room of its own if left out
 */
export function simulate(requests: Requests, rules: ServiceRules, observers: Observers = {}, memory?: RunMemory): RunRecord {
  const simulation = new Simulation(requests, rules, observers, memory)
  const record = simulation.run()
  memory?.wroteOf(simulation.written)
  return record
}

function replicasOf(floor: Floor): Replicas {
  const { profile, classes, seed } = floor.rules
  if (profile.kind === 'batch') return new BatchReplicas(floor, profile)
  if (profile.kind === 'shared') return new SharedReplicas(floor, sharedCosts(profile, floor.requests))
  if (profile.kind === 'sold') return new SharedReplicas(floor, soldCosts(profile, floor.requests, classes, seed))
  return profile.prompts === 'whole' ? new WholePrompts(floor, profile) : new InterleavedPrompts(floor, profile)
}

/** What happens next. */
const Next = { change: 0, arrival: 1, step: 2, deadline: 3, reading: 4 } as const
type Next = (typeof Next)[keyof typeof Next]

/** A service as it goes on; see {@link simulate}. */
export class Simulation {
  private readonly floor: Floor
  private readonly replicas: Replicas
  private readonly router: Router
  private readonly limits: RateLimits
  private readonly life: FleetLife
  private readonly doors: Doors
  private readonly arrivals: OwnArrivals
  private readonly gauge: Gauge
  /** until when all has happened */
  private now = 0
  /** nobody keeps a gauge that is never read */
  private readonly gauged: boolean
  /** until when the areas of the gauge are added up, and the areas */
  private readonly measured = new Float64Array(4)

  constructor(requests: Requests, rules: ServiceRules, observers: Observers, memory?: RunMemory) {
    this.life = rules.life ? rules.life() : new FixedFleet(rules.readyAtSeconds)
    this.gauge = {
      now: 0,
      arrivals: 0,
      inFlightArea: 0,
      waitingArea: 0,
      busyArea: 0,
      hostAreas: new Float64Array(this.life.hostCurves.length),
    }
    this.floor = new Floor(requests, rules, observers, this.life.slots, memory)
    this.replicas = replicasOf(this.floor)
    this.router = routerOf(rules.routing, this.floor.busy, rules.seed)
    this.limits = new RateLimits(rules, requests)
    this.doors = new Doors(this.floor, this.replicas, this.router)
    this.arrivals = new OwnArrivals(requests, this.floor.comings)
    if (this.life.onCall) this.floor.busy.turned = []
    if (observers.late) observers.late.clocks = (now) => this.life.clocks(now)
    this.gauged = this.life.moves && this.life.nextReading() < Infinity
  }

  run(): RunRecord {
    this.advance(this.floor.rules.horizonSeconds)
    return this.end()
  }

  /** Lets everything happen up to and including a time. Looks at what it goes by once, since the loop is what takes the time. */
  advance(untilSeconds: number): void {
    const { floor, replicas, life, gauge, gauged, arrivals, doors } = this
    const { clock, record, comings, patience, busy, lines, sharedLine } = floor
    const { watch } = floor.observers
    const { moves, onCall } = life
    const { length } = lines
    let nextChange = life.nextChange()
    let nextReading = life.nextReading()
    const readsHosts = gauge.hostAreas.length > 0
    let [measuredAt, inFlightArea, waitingArea, busyArea] = this.measured
    let onTheirOwn = arrivals.nextTime()
    let { now } = this
    let events = 0
    for (;;) {
      const coming = comings.firstTime()
      const nextArrival = coming < onTheirOwn ? coming : onTheirOwn
      const nextStep = clock.firstTime()
      const nextDeadline = patience.matters ? patience.next() : Infinity
      const rest = nextDeadline < nextReading ? nextDeadline : nextReading
      const later = nextStep < rest ? nextStep : rest
      const soonest = Math.min(nextChange, nextArrival, later)
      if (soonest > untilSeconds || soonest === Infinity) break
      events++
      let next: Next
      if (nextChange <= soonest + INSTANT_SECONDS) [next, now] = [Next.change, nextChange]
      else if (nextArrival <= later + INSTANT_SECONDS) [next, now] = [Next.arrival, nextArrival]
      else if (nextStep <= rest + INSTANT_SECONDS) [next, now] = [Next.step, nextStep]
      else if (nextDeadline <= nextReading + INSTANT_SECONDS) [next, now] = [Next.deadline, nextDeadline]
      else [next, now] = [Next.reading, nextReading]
      if (gauged) {
        // Adds to the areas what held until now.
        const seconds = now - measuredAt
        inFlightArea += seconds * (busy.total + length[sharedLine])
        waitingArea += seconds * floor.waiting
        busyArea += seconds * busy.occupied
        if (readsHosts) this.addHosts(seconds, busy.total + length[sharedLine])
        measuredAt = now
      }
      if (next === Next.arrival) {
        this.route(arrivals.take(onTheirOwn), now)
        onTheirOwn = arrivals.nextTime()
      } else if (next === Next.step) {
        floor.beginning = 0
        replicas.boundary(clock.first(), now)
      } else if (next === Next.change) {
        this.change(now)
        nextChange = life.nextChange()
      } else if (next === Next.deadline) this.runOut(patience.take(now), now)
      else {
        gauge.now = now
        gauge.inFlightArea = inFlightArea
        gauge.waitingArea = waitingArea
        gauge.busyArea = busyArea
        life.read(gauge, doors.at(now))
      }
      if (moves) {
        if (onCall) doors.tellTurned(life, now)
        doors.tellEmptied(life, now)
        if (busy.total + length[sharedLine] === 0) life.idle(now)
        nextChange = life.nextChange()
        nextReading = life.nextReading()
      }
      if (watch !== undefined && watch.broken >= 0) {
        record.stopped = true
        break
      }
    }
    this.now = now
    this.measured.set([measuredAt, inFlightArea, waitingArea, busyArea])
    record.events += events
  }

  /** When something happens next; Infinity for never. */
  nextTime(): number {
    const { clock, comings, patience } = this.floor
    const own = Math.min(comings.firstTime(), this.arrivals.nextTime())
    return Math.min(own, clock.firstTime(), patience.matters ? patience.next() : Infinity, this.life.nextChange(), this.life.nextReading())
  }

  /** How it stands now: replicas that are ready, requests that wait and that are in service, and what is written of all. */
  get state(): { ready: number; waiting: number; inService: number; record: RunRecord } {
    const { busy, lines, sharedLine, waiting, record } = this.floor
    return { ready: this.doors.ready, waiting, inService: busy.total + lines.length[sharedLine] - waiting, record }
  }

  private end(): RunRecord {
    const { record, rules } = this.floor
    record.endSeconds = record.stopped ? this.now : rules.horizonSeconds
    if (this.life.moves) this.life.end(record.endSeconds)
    return record
  }

  /** See {@link OwnArrivals}. */
  get written(): number {
    return this.arrivals.written
  }

  /** Adds what hosts showed for some seconds with so many in flight; nothing while none is ready. */
  private addHosts(seconds: number, inFlight: number): void {
    const { gauge, life } = this
    const { ready } = this.doors
    if (ready === 0) return
    life.hostCurves.forEach(
      ({ baseShare, sharePerRequest }, curve) =>
        (gauge.hostAreas[curve] += seconds * Math.min(1, baseShare + (sharePerRequest * inFlight) / ready)),
    )
  }

  /** Everything that happens to the fleet now happens first; then those who waited are routed in order. */
  private change(now: number): void {
    const { floor } = this
    this.life.happen(now, this.doors.at(now))
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
    const { floor, replicas, life } = this
    floor.arrive(request, now)
    if (life.moves) {
      this.gauge.arrivals++
      life.arrived(now)
      if (life.refusesWhileAsleep && this.doors.ready === 0) return floor.turnAway(request, now, RejectCause.asleep)
    }
    if (replicas.tooLarge(request)) return floor.turnAway(request, now, RejectCause.tooLarge)
    if (this.limits.matter && !this.limits.admits(floor.requests, request, now))
      return floor.turnAway(request, now, RejectCause.rateLimited)
    const replica = this.choose(request, now)
    const begin = replica < 0 ? 0 : replicas.beginsAtOnce(replica, request)
    // Who has a place on an instance that is on its way does not queue.
    const placed = replica < 0 && life.onCall ? life.comingRoom() : 0
    if (begin === 0 && floor.waiting - floor.beginning - placed >= floor.rules.queueLimit)
      return floor.turnAway(request, now, RejectCause.queueFull)
    if (floor.patience.matters) floor.patience.push(floor.requests.classIndex[request], request)
    if (replica < 0) {
      floor.waitShared(request)
      if (life.onCall) life.crowded(floor.lines.length[floor.sharedLine], now)
      return
    }
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
