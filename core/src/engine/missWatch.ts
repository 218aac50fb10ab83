/** A promise to one class, as the engine can check it request by request. */
export interface WatchedTarget {
  classIndex: number
  measure: 'wait' | 'ttft' | 'tpot' | 'latency' | 'lost'
  /** largest value that keeps the promise; unused for `lost` */
  seconds: number
  /** how many counted requests may miss; one more and the promise is broken whatever comes */
  allowedMisses: number
}

/**
 * Counts broken promises while a simulation runs, so that it can stop as soon as one is beyond repair. It never
 * changes a verdict: it only tells it early.
 */
export class MissWatch {
  readonly misses: Int32Array
  broken = -1
  private readonly targets: readonly WatchedTarget[]
  private readonly byClass: number[][]
  private readonly countFromSeconds: number

  constructor(targets: readonly WatchedTarget[], classes: number, countFromSeconds: number) {
    this.targets = targets
    this.misses = new Int32Array(targets.length)
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
      if (value > seconds) this.miss(i)
    }
  }

  lost(classIndex: number, at: number): void {
    if (at < this.countFromSeconds) return
    for (const i of this.byClass[classIndex]) this.miss(i)
  }

  private miss(target: number): void {
    if (++this.misses[target] > this.targets[target].allowedMisses && this.broken < 0) this.broken = target
  }
}
