import type { WaitClocks } from '../life/fleet.ts'
import type { RunRecord } from './record.ts'

/** A time target as it judges single requests. */
export interface LateTarget {
  classIndex: number
  measure: 'wait' | 'ttft' | 'tpot' | 'latency'
  /** who takes longer is late */
  seconds: number
}

/** Where the time of late requests went, seconds, summed. The five parts add up to their latency. */
export interface LateSums {
  late: number
  /** never served: turned away or given up, in the last of their attempts */
  lost: number
  /** waited while capacity was on its way and that waited for a machine */
  machineSeconds: number
  /** waited while capacity was on its way and starting up, or no replica was ready at all */
  startUpSeconds: number
  /** waited for a replica or in its line, back-off between attempts included */
  queueSeconds: number
  /** stood still, or were slowed, for others: their prompts, their share of a batch or a host, their claim on the cache */
  othersSeconds: number
  ownSeconds: number
}

const FIELDS = 7

/**
 * Adds up, by piece of the horizon (of arrival) and by class, where late requests spent their time. What is kept depends
 * on the number of pieces, not of requests; any window that consists of pieces can be asked for.
 */
export class LateSplit {
  /** by request in service: seconds for others so far, less the replica's clock of them while it runs */
  readonly others: Float64Array
  readonly pieceSeconds: number
  private readonly pieces: number
  private readonly fromSeconds: number
  private readonly untilBroken: boolean
  private readonly classes: number
  /** by request: the wait clocks when it came */
  private readonly machineAt: Float64Array
  private readonly startUpAt: Float64Array
  /** the wait clocks now; set by the run that is looked on at */
  clocks: (now: number) => WaitClocks = () => ({ machineSeconds: 0, startUpSeconds: 0 })
  private readonly waited: Float64Array
  private readonly targets: LateTarget[][]
  private readonly sums: Float64Array

  /**
   * @param fromSeconds those who come before it are not counted
   * @param untilBroken looks no further than to what was broken first: of a late first token nothing after it
   */
  constructor(
    requests: number,
    targets: readonly LateTarget[],
    classes: number,
    horizonSeconds: number,
    pieces: number,
    { fromSeconds = 0, untilBroken = false } = {},
  ) {
    this.fromSeconds = fromSeconds
    this.untilBroken = untilBroken
    this.others = new Float64Array(requests)
    this.pieceSeconds = horizonSeconds / pieces
    this.pieces = pieces
    this.classes = classes
    this.machineAt = new Float64Array(requests)
    this.startUpAt = new Float64Array(requests)
    this.waited = new Float64Array(2 * requests)
    this.targets = Array.from({ length: classes }, (_, c) => targets.filter((t) => t.classIndex === c))
    this.sums = new Float64Array(FIELDS * classes * pieces)
  }

  /** A request made its first attempt. */
  came(request: number, now: number): void {
    const { machineSeconds, startUpSeconds } = this.clocks(now)
    this.machineAt[request] = machineSeconds
    this.startUpAt[request] = startUpSeconds
  }

  /** A request is taken into service; what it waited until now is known. */
  began(request: number, now: number): void {
    const { machineSeconds, startUpSeconds } = this.clocks(now)
    this.waited[2 * request] = machineSeconds - this.machineAt[request]
    this.waited[2 * request + 1] = startUpSeconds - this.startUpAt[request]
  }

  finished(record: RunRecord, request: number): void {
    const c = record.requests.classIndex[request]
    const at = record.at[request]
    if (at < this.fromSeconds || !this.targets[c].some((t) => this.isLate(t, record, request))) return
    const start = record.start[request]
    const machine = this.waited[2 * request]
    const startUp = this.waited[2 * request + 1]
    const until = this.untilBroken ? this.brokenAt(c, record, request) : record.end[request]
    // What of its time was for others is known of the whole only.
    const others = until < record.end[request] ? 0 : this.others[request]
    this.add(at, c, 0, 1)
    this.add(at, c, 2, machine)
    this.add(at, c, 3, startUp)
    this.add(at, c, 4, start - at - machine - startUp)
    this.add(at, c, 5, others)
    this.add(at, c, 6, until - start - others)
  }

  /** The end of what was too long, the first of several. */
  private brokenAt(c: number, record: RunRecord, request: number): number {
    const late = this.targets[c].filter((t) => this.isLate(t, record, request))
    if (late.some((t) => t.measure === 'wait')) return record.start[request]
    return late.some((t) => t.measure === 'ttft') ? record.firstToken[request] : record.end[request]
  }

  lost(record: RunRecord, request: number): void {
    if (record.at[request] < this.fromSeconds) return
    this.add(record.at[request], record.requests.classIndex[request], 1, 1)
  }

  /** The sums over the pieces that lie in [from, until) by more than half, for one class or (−1) all. */
  between(fromSeconds: number, untilSeconds: number, classIndex = -1): LateSums {
    const first = Math.max(0, Math.round(fromSeconds / this.pieceSeconds))
    const last = Math.min(this.pieces, Math.round(untilSeconds / this.pieceSeconds))
    const total = new Float64Array(FIELDS)
    for (let piece = first; piece < last; piece++) {
      for (let c = 0; c < this.classes; c++) {
        if (classIndex >= 0 && c !== classIndex) continue
        const base = FIELDS * (piece * this.classes + c)
        for (let f = 0; f < FIELDS; f++) total[f] += this.sums[base + f]
      }
    }
    const [late, lost, machineSeconds, startUpSeconds, queueSeconds, othersSeconds, ownSeconds] = total
    return { late, lost, machineSeconds, startUpSeconds, queueSeconds, othersSeconds, ownSeconds }
  }

  private isLate({ measure, seconds }: LateTarget, record: RunRecord, request: number): boolean {
    const at = record.at[request]
    if (measure === 'wait') return record.start[request] - at > seconds
    if (measure === 'ttft') return record.firstToken[request] - at > seconds
    if (measure === 'latency') return record.end[request] - at > seconds
    const steps = record.requests.output[request] - 1
    return steps > 0 && (record.end[request] - record.firstToken[request]) / steps > seconds
  }

  private add(at: number, classIndex: number, field: number, value: number): void {
    const piece = Math.min(this.pieces - 1, Math.floor(at / this.pieceSeconds))
    this.sums[FIELDS * (piece * this.classes + classIndex) + field] += value
  }
}
