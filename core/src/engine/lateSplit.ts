import type { RunRecord } from './record.ts'

/** A time target as it judges single requests. */
export interface LateTarget {
  classIndex: number
  measure: 'wait' | 'ttft' | 'tpot' | 'latency'
  /** who takes longer is late */
  seconds: number
}

/** Where the time of late requests went, seconds, summed. The four parts add up to their latency. */
export interface LateSums {
  late: number
  /** never served: turned away or given up, in the last of their attempts */
  lost: number
  /** waited while no replica was ready at all */
  startUpSeconds: number
  /** waited for a replica or in its line, back-off between attempts included */
  queueSeconds: number
  /** stood still, or were slowed, for others: their prompts, their share of a batch or a host, their claim on the cache */
  othersSeconds: number
  ownSeconds: number
}

const FIELDS = 6

/**
 * Adds up, by piece of the horizon (of arrival) and by class, where late requests spent their time. What is kept depends
 * on the number of pieces, not of requests; any window that consists of pieces can be asked for.
 */
export class LateSplit {
  /** by request in service: seconds for others so far, less the replica's clock of them while it runs */
  readonly others: Float64Array
  readonly pieceSeconds: number
  private readonly pieces: number
  private readonly classes: number
  private readonly firstReadySeconds: number
  private readonly targets: LateTarget[][]
  private readonly sums: Float64Array

  constructor(requests: number, targets: readonly LateTarget[], classes: number, horizonSeconds: number, pieces: number, firstReadySeconds: number) {
    this.others = new Float64Array(requests)
    this.pieceSeconds = horizonSeconds / pieces
    this.pieces = pieces
    this.classes = classes
    this.firstReadySeconds = firstReadySeconds
    this.targets = Array.from({ length: classes }, (_, c) => targets.filter((t) => t.classIndex === c))
    this.sums = new Float64Array(FIELDS * classes * pieces)
  }

  finished(record: RunRecord, request: number): void {
    const c = record.requests.classIndex[request]
    if (!this.targets[c].some((t) => this.isLate(t, record, request))) return
    const at = record.at[request]
    const start = record.start[request]
    const wait = start - at
    const startUp = Math.max(0, Math.min(start, this.firstReadySeconds) - at)
    const others = this.others[request]
    this.add(at, c, 0, 1)
    this.add(at, c, 2, startUp)
    this.add(at, c, 3, wait - startUp)
    this.add(at, c, 4, others)
    this.add(at, c, 5, record.end[request] - start - others)
  }

  lost(record: RunRecord, request: number): void {
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
    const [late, lost, startUpSeconds, queueSeconds, othersSeconds, ownSeconds] = total
    return { late, lost, startUpSeconds, queueSeconds, othersSeconds, ownSeconds }
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
