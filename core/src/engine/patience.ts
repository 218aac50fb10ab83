import type { ClassRules } from './rules.ts'

const NONE = -1

/**
 * When the next waiting request runs out of patience. Within a class patience is the same, so deadlines come in the
 * order in which attempts were made: a line for each class is enough. Who was started meanwhile is skipped.
 */
export class Patience {
  /** whether anybody is impatient at all */
  readonly matters: boolean
  private readonly seconds: Float64Array
  private readonly head: Int32Array
  private readonly tail: Int32Array
  private readonly after: Int32Array
  private readonly since: Float64Array
  private readonly start: Float64Array

  /**
   * @param since when the running attempt of each request was made
   * @param start NaN while a request was never started
   * @param after room for as many requests
   */
  constructor(classes: readonly ClassRules[], since: Float64Array, start: Float64Array, after: Int32Array) {
    this.seconds = Float64Array.from(classes, (c) => c.patienceSeconds)
    this.matters = this.seconds.some((s) => s < Infinity)
    this.head = new Int32Array(classes.length).fill(NONE)
    this.tail = new Int32Array(classes.length).fill(NONE)
    this.after = after
    this.since = since
    this.start = start
  }

  /** Begins to count for a request that waits. */
  push(classIndex: number, request: number): void {
    if (this.seconds[classIndex] === Infinity) return
    this.after[request] = NONE
    if (this.head[classIndex] === NONE) this.head[classIndex] = request
    else this.after[this.tail[classIndex]] = request
    this.tail[classIndex] = request
  }

  /** Time of the next deadline of somebody who still waits; Infinity when there is none. */
  next(): number {
    let soonest = Infinity
    for (let c = 0; c < this.head.length; c++) {
      const first = this.firstWaiting(c)
      if (first !== NONE) soonest = Math.min(soonest, this.since[first] + this.seconds[c])
    }
    return soonest
  }

  /** Takes out the request whose deadline is the given one; of several, that of the first class. */
  take(deadline: number): number {
    for (let c = 0; c < this.head.length; c++) {
      const first = this.firstWaiting(c)
      if (first === NONE || this.since[first] + this.seconds[c] !== deadline) continue
      this.head[c] = this.after[first]
      return first
    }
    throw new Error('no request has this deadline')
  }

  /** Takes a request out that was started and has to begin anew: its patience will count from then. */
  forget(classIndex: number, request: number): void {
    let before = NONE
    for (let i = this.head[classIndex]; i !== NONE; before = i, i = this.after[i]) {
      if (i !== request) continue
      if (before === NONE) this.head[classIndex] = this.after[i]
      else this.after[before] = this.after[i]
      if (this.tail[classIndex] === i) this.tail[classIndex] = before
      return
    }
  }

  private firstWaiting(classIndex: number): number {
    let request = this.head[classIndex]
    while (request !== NONE && this.start[request] === this.start[request]) request = this.after[request]
    this.head[classIndex] = request
    return request
  }
}
