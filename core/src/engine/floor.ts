import type { Requests } from '../demand/requests.ts'
import { drawOf } from '../random/mixer.ts'
import { Comings } from './comings.ts'
import { LeastBusy } from './leastBusy.ts'
import type { LateSplit } from './lateSplit.ts'
import { levelsOf, Lines } from './lines.ts'
import type { Observers } from './observers.ts'
import { Outcome, RejectCause } from './outcome.ts'
import { Patience } from './patience.ts'
import { emptyRecord, type RunRecord } from './record.ts'
import { ReplicaClock } from './replicaClock.ts'
import { freshColumns, type RunMemory } from './runMemory.ts'
import type { Retries, ServiceRules } from './rules.ts'
import { ROUTINGS } from '../plan/ways.ts'

/**
 * What all parts of a running simulation share: who waits where, how busy each replica is, when its next boundary
 * comes, who is still to come, and the record that is being written.
 */
export class Floor {
  readonly requests: Requests
  readonly rules: ServiceRules
  readonly record: RunRecord
  readonly observers: Observers
  readonly lines: Lines
  readonly busy: LeastBusy
  readonly clock: ReplicaClock
  readonly comings = new Comings()
  readonly patience: Patience
  readonly replicas: number
  /** the line that no replica owns */
  readonly sharedLine: number
  readonly sharesQueue: boolean
  /** when the running attempt of each request was made; the arrival when no class retries */
  readonly since: Float64Array
  /** requests that wait anywhere */
  waiting = 0
  /** of those, the ones that begin at the boundary that is due at this very instant: they do not queue */
  beginning = 0
  private readonly retries: Uint8Array | undefined
  // Columns of the record that every request writes, held here: one step less to each.
  private readonly start: Float64Array
  private readonly firstToken: Float64Array
  private readonly end: Float64Array
  private readonly outcome: Uint8Array
  private readonly boundTo: Int16Array
  private readonly chained: boolean
  private readonly late: LateSplit | undefined
  /** whether anybody wants to hear of those who finish */
  private readonly watched: boolean

  constructor(requests: Requests, rules: ServiceRules, observers: Observers, replicas: number, memory?: RunMemory) {
    const columns = memory ? memory.take(requests.count) : freshColumns(requests.count)
    const retried = rules.classes.some((c) => c.retries !== undefined)
    this.requests = requests
    this.rules = rules
    this.observers = observers
    this.watched = observers.watch !== undefined || observers.late !== undefined || observers.listener !== undefined
    this.record = emptyRecord(requests, rules.classes.length, retried, columns)
    this.retries = this.record.retries
    this.start = this.record.start
    this.firstToken = this.record.firstToken
    this.end = this.record.end
    this.outcome = this.record.outcome
    this.boundTo = this.record.replica
    this.late = observers.late
    this.chained = requests.chain !== undefined
    this.since = retried ? this.record.at.slice() : this.record.at
    this.replicas = replicas
    this.sharedLine = this.replicas
    this.sharesQueue = ROUTINGS[rules.routing].sharesQueue
    this.lines = new Lines(this.replicas + 1, levelsOf(rules.classes.map((c) => c.priority)), requests.classIndex, columns)
    this.patience = new Patience(rules.classes, this.since, this.record.start, columns.after)
    this.busy = new LeastBusy(this.replicas)
    this.clock = new ReplicaClock(this.replicas)
  }

  /** How many attempts a request made before this one. */
  attempt(request: number): number {
    return this.retries === undefined ? 0 : this.retries[request]
  }

  sharedWaiting(): boolean {
    return this.lines.length[this.sharedLine] > 0
  }

  /** Whether somebody of the same or a higher priority waits in the shared line. */
  sharedWaitingBefore(request: number): boolean {
    if (!this.sharedWaiting()) return false
    return this.lines.level(this.lines.peek(this.sharedLine)) <= this.lines.level(request)
  }

  /** Notes that an attempt is made now. */
  arrive(request: number, now: number): void {
    const { at } = this.record
    if (at[request] !== at[request]) at[request] = now
    if (this.since !== at) this.since[request] = now
    if (this.late !== undefined && this.attempt(request) === 0) this.late.came(request, now)
  }

  /** Puts a request that waits nowhere into a replica's own line. */
  bind(replica: number, request: number): void {
    this.boundTo[request] = replica
    this.lines.push(replica, request)
    this.busy.add(replica, 1)
    this.waiting++
  }

  waitShared(request: number): void {
    this.lines.push(this.sharedLine, request)
    this.waiting++
  }

  /** Moves the head of the shared line into a replica's own line. */
  takeShared(replica: number): number {
    const request = this.lines.shift(this.sharedLine)
    this.waiting--
    this.bind(replica, request)
    return request
  }

  /** Takes the head of a replica's line into service. */
  begin(replica: number, now: number): number {
    const request = this.lines.shift(replica)
    this.waiting--
    this.started(request, now)
    return request
  }

  /** Notes the start of a request, unless it had one before. */
  started(request: number, now: number): void {
    const { start } = this
    if (start[request] === start[request]) return
    const at = this.since[request]
    start[request] = now > at ? now : at
    if (this.late !== undefined) this.late.began(request, now)
  }

  /** Takes a request out of service and back to the head of the replica's line. */
  putBack(replica: number, request: number): void {
    this.lines.putBack(replica, request)
    this.waiting++
  }

  finish(replica: number, request: number, firstToken: number, now: number): void {
    this.firstToken[request] = firstToken
    this.end[request] = now
    this.outcome[request] = Outcome.finished
    this.busy.add(replica, -1)
    if (this.watched) this.tellFinished(request, firstToken, now)
    if (this.chained) this.ended(request, now)
  }

  private tellFinished(request: number, firstToken: number, now: number): void {
    const { record, requests, observers } = this
    observers.watch?.finished(
      requests.classIndex[request],
      record.at[request],
      record.start[request],
      firstToken,
      now,
      requests.output[request],
    )
    observers.late?.finished(record, request)
    observers.listener?.ended(request, now)
  }

  /** Turns an attempt away; the request comes again if its class retries, and is lost otherwise. */
  turnAway(request: number, now: number, cause: number): void {
    const { record, requests, rules, retries } = this
    const c = requests.classIndex[request]
    record.lostAttempts[cause * rules.classes.length + c]++
    const again = rules.classes[c].retries
    if (again && retries && cause !== RejectCause.tooLarge && retries[request] < again.most) {
      const attempt = retries[request]++
      const jitter = again.jitter * (2 * drawOf(rules.seed, request, JITTER + attempt) - 1)
      this.comings.push(now + pauseOf(again, attempt) * (1 + jitter), request)
      record.replica[request] = -1
      return
    }
    if (cause !== RejectCause.impatient && cause !== RejectCause.replicaLost) record.rejectCause[request] = cause
    record.outcome[request] =
      cause === RejectCause.impatient ? Outcome.abandoned : cause === RejectCause.replicaLost ? Outcome.failed : Outcome.rejected
    record.end[request] = now
    this.observers.watch?.lost(c, record.at[request])
    this.observers.late?.lost(record, request)
    this.observers.listener?.ended(request, now)
    this.ended(request, now)
  }

  /** Takes a request from a replica that is gone; it has to begin anew, or has failed. It is in no line and not in service any more. */
  lost(replica: number, request: number, now: number): void {
    this.busy.add(replica, -1)
    if (this.patience.matters) this.patience.forget(this.requests.classIndex[request], request)
    this.turnAway(request, now, RejectCause.replicaLost)
    if (this.outcome[request] !== Outcome.unfinished) return
    this.start[request] = NaN
    this.firstToken[request] = NaN
    if (this.late) this.late.others[request] = 0
  }

  /** Sends for the follower of a request that ended, however it did. */
  private ended(request: number, now: number): void {
    const { chain } = this.requests
    if (chain !== undefined && chain.next[request] >= 0) this.comings.push(now + chain.pause[chain.next[request]], chain.next[request])
  }
}

/** Seconds before an attempt, jitter apart. By products: the power function differs between platforms in its last bit. */
function pauseOf({ firstPauseSeconds, growth }: Retries, attempt: number): number {
  let seconds = firstPauseSeconds
  for (let i = 0; i < attempt; i++) seconds *= growth
  return seconds
}

/** Draws below this are for routing. */
const JITTER = 1000
