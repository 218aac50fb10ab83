import type { Requests } from '../demand/requests.ts'
import { LeastBusy } from './leastBusy.ts'
import { Lines } from './lines.ts'
import type { MissWatch } from './missWatch.ts'
import { Outcome } from './outcome.ts'
import { emptyRecord, type RunRecord } from './record.ts'
import { ReplicaClock } from './replicaClock.ts'
import type { ServiceRules } from './rules.ts'

/**
 * What all parts of a running simulation share: who waits where, how busy each replica is, when its next boundary
 * comes, and the record that is being written.
 */
export class Floor {
  readonly requests: Requests
  readonly rules: ServiceRules
  readonly record: RunRecord
  readonly lines: Lines
  readonly busy: LeastBusy
  readonly clock: ReplicaClock
  readonly replicas: number
  /** the line that no replica owns */
  readonly sharedLine: number
  readonly sharesQueue: boolean
  /** requests that wait anywhere */
  waiting = 0
  /** of those, the ones that begin at the boundary that is due at this very instant: they do not queue */
  beginning = 0
  readonly watch: MissWatch | undefined

  constructor(requests: Requests, rules: ServiceRules, watch: MissWatch | undefined) {
    this.requests = requests
    this.rules = rules
    this.watch = watch
    this.record = emptyRecord(requests)
    this.replicas = rules.readyAtSeconds.length
    this.sharedLine = this.replicas
    this.sharesQueue = rules.routing === 'shared-queue'
    this.lines = new Lines(this.replicas + 1, this.record.outcome)
    this.busy = new LeastBusy(this.replicas)
    this.clock = new ReplicaClock(this.replicas)
  }

  sharedWaiting(): boolean {
    return this.lines.length[this.sharedLine] > 0
  }

  /** Puts a request that waits nowhere into a replica's own line. */
  bind(replica: number, request: number): void {
    this.record.replica[request] = replica
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
    const at = this.requests.at[request]
    this.waiting--
    this.record.start[request] = now > at ? now : at
    return request
  }

  finish(replica: number, request: number, firstToken: number, now: number): void {
    const { record, requests, watch } = this
    record.firstToken[request] = firstToken
    record.end[request] = now
    record.outcome[request] = Outcome.finished
    this.busy.add(replica, -1)
    watch?.finished(requests.classIndex[request], requests.at[request], record.start[request], firstToken, now, requests.output[request])
  }

  reject(request: number, now: number, cause: number): void {
    this.record.rejectCause[request] = cause
    this.lose(request, now, Outcome.rejected)
  }

  lose(request: number, now: number, outcome: number): void {
    this.record.outcome[request] = outcome
    this.record.end[request] = now
    this.watch?.lost(this.requests.classIndex[request], this.requests.at[request])
  }
}
