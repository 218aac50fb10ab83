import { follows, type Requests } from '../../src/demand/requests.ts'
import type { ServiceRules } from '../../src/engine/rules.ts'

/** What the plain walk says of one request. */
export interface Walked {
  at: number
  start: number
  firstToken: number
  end: number
  outcome: 'unfinished' | 'finished' | 'rejected' | 'abandoned' | 'failed'
  replica: number
}

/** One replica as the walk sees it: what waits for it and when something happens next. What is in service, each kind knows. */
export interface Server {
  number: number
  ready: boolean
  bound: number[]
  /** end of the step that runs, or the instant of a boundary that is due */
  next: number
  stepping: boolean
}

/** How one kind of profile is walked through. */
export interface Kind {
  inService: (s: Server) => number
  hasRoom: (s: Server, id: number) => boolean
  /** how many begin at once if the request is bound now; 0 when it does not */
  begins: (s: Server, id: number) => number
  /** when a free server has its next boundary, given its line */
  due: (s: Server, now: number) => number
  /** called when a request was bound or left */
  lineChanged: (s: Server, now: number) => void
  boundary: (s: Server, now: number) => void
  tooLarge: (id: number) => boolean
  /** empties what is in service and says whom that was */
  dropAll: (s: Server, now: number) => number[]
}

export const TIE = 1e-9
/** Slack for sums of fractional tokens, as the model notes say. */
export const TOKEN_TIE = 1e-6

/** What the parts of a walk share. */
export class World {
  readonly requests: Requests
  readonly rules: ServiceRules
  readonly out: Walked[]
  readonly queue: number[] = []
  readonly servers: Server[]
  evictions = 0
  /** when the running attempt of each request was made */
  readonly since: number[]
  /** called when a request ended */
  onEnd: (id: number, now: number) => void = () => undefined

  constructor(requests: Requests, rules: ServiceRules, slots: number) {
    this.requests = requests
    this.rules = rules
    this.out = Array.from({ length: requests.count }, (_, id) => ({
      at: follows(requests, id) ? NaN : requests.at[id],
      start: NaN,
      firstToken: NaN,
      end: NaN,
      outcome: 'unfinished',
      replica: -1,
    }))
    this.since = new Array<number>(requests.count).fill(NaN)
    this.servers = Array.from({ length: slots }, (_, number) => ({ number, ready: false, bound: [], next: Infinity, stepping: false }))
  }

  priority(id: number): number {
    return this.rules.classes[this.requests.classIndex[id]].priority
  }

  /** Puts a request behind those of its own and of higher priority. */
  join(line: number[], id: number): void {
    const place = line.findIndex((other) => this.priority(other) < this.priority(id))
    line.splice(place < 0 ? line.length : place, 0, id)
  }

  /** Puts a request before those of its own priority. */
  putBack(line: number[], id: number): void {
    const place = line.findIndex((other) => this.priority(other) <= this.priority(id))
    line.splice(place < 0 ? line.length : place, 0, id)
  }

  /** Takes from the shared line while the server has room. */
  pull(s: Server, kind: Kind): void {
    if (this.rules.routing !== 'shared-queue') return
    while (s.ready && this.queue.length > 0 && kind.hasRoom(s, this.queue[0])) {
      const id = this.queue.shift()!
      this.join(s.bound, id)
      this.out[id].replica = s.number
    }
  }

  begin(id: number, now: number): void {
    if (Number.isNaN(this.out[id].start)) this.out[id].start = Math.max(now, this.since[id])
  }

  finish(id: number, now: number): void {
    this.out[id].outcome = 'finished'
    this.out[id].end = now
    this.onEnd(id, now)
  }
}
