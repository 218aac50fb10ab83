/** A promise to one class, as the engine can check it request by request. */
export interface WatchedTarget {
  classIndex: number
  measure: 'wait' | 'ttft' | 'tpot' | 'latency' | 'lost'
  /** largest value that keeps the promise; unused for `lost` */
  seconds: number
  /** the horizon in pieces of so many seconds that are each judged by themselves; Infinity for one piece */
  pieceSeconds: number
  /** how many counted requests of each piece may miss; one more and the promise is broken whatever comes */
  allowedMisses: ArrayLike<number>
}

/**
 * Counts broken promises while a simulation runs, so that it can stop as soon as one is beyond repair. It never
 * changes a verdict: it only tells it early.
 */
export class MissWatch {
  /** by target and piece */
  readonly misses: Int32Array[]
  broken = -1
  brokenPiece = -1
  private readonly targets: readonly WatchedTarget[]
  private readonly byClass: number[][]
  private readonly countFromSeconds: number

  constructor(targets: readonly WatchedTarget[], classes: number, countFromSeconds: number) {
    this.targets = targets
    this.misses = targets.map((t) => new Int32Array(t.allowedMisses.length))
    this.countFromSeconds = countFromSeconds
    this.byClass = Array.from({ length: classes }, (_, c) => targets.flatMap((t, i) => (t.classIndex === c ? [i] : [])))
  }

  /** @param output answer tokens; below 2 there is no time per output token */
  finished(classIndex: number, at: number, start: number, firstToken: number, end: number, output: number): void {
    if (at < this.countFromSeconds) return
    for (const i of this.byClass[classIndex]) {
      const { measure, seconds } = this.targets[i]
      let value = end - at
      if (measure === 'ttft') value = firstToken - at
      else if (measure === 'wait') value = start - at
      else if (measure === 'tpot') value = output > 1 ? (end - firstToken) / (output - 1) : 0
      else if (measure === 'lost') continue
      if (value > seconds) this.miss(i, at)
    }
  }

  lost(classIndex: number, at: number): void {
    if (at < this.countFromSeconds) return
    for (const i of this.byClass[classIndex]) this.miss(i, at)
  }

  private miss(target: number, at: number): void {
    const { pieceSeconds, allowedMisses } = this.targets[target]
    const piece = pieceSeconds === Infinity ? 0 : Math.min(allowedMisses.length - 1, Math.floor(at / pieceSeconds))
    if (++this.misses[target][piece] <= allowedMisses[piece] || this.broken >= 0) return
    this.broken = target
    this.brokenPiece = piece
  }
}
