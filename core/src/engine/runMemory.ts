/** What a record says of every request; indices are those of the requests. */
export interface RecordColumns {
  /** seconds; NaN when it was never started */
  start: Float64Array
  /** seconds; NaN when there was none; the end for fixed work */
  firstToken: Float64Array
  /** seconds when it finished, was refused or left; NaN when it is unfinished */
  end: Float64Array
  /** codes of `Outcome` */
  outcome: Uint8Array
  /** codes of `RejectCause`: why the last attempt of a rejected request was refused */
  rejectCause: Uint8Array
  /** the replica that it was bound to; −1 for none */
  replica: Int16Array
}

/** What a run writes for each request. */
export interface Columns extends RecordColumns {
  /** of lines; nobody reads them before they are written */
  next: Int32Array
  previous: Int32Array
  /** of patience; the same */
  after: Int32Array
}

/** @returns columns for so many requests of which nothing happened yet */
export function freshColumns(count: number): Columns {
  const columns = {
    start: new Float64Array(count),
    firstToken: new Float64Array(count),
    end: new Float64Array(count),
    outcome: new Uint8Array(count),
    rejectCause: new Uint8Array(count),
    replica: new Int16Array(count),
    next: new Int32Array(count),
    previous: new Int32Array(count),
    after: new Int32Array(count),
  }
  clear(columns, count)
  return columns
}

function clear({ start, firstToken, end, outcome, rejectCause, replica }: Columns, count: number): void {
  start.fill(NaN, 0, count)
  firstToken.fill(NaN, 0, count)
  end.fill(NaN, 0, count)
  outcome.fill(0, 0, count)
  rejectCause.fill(0, 0, count)
  replica.fill(-1, 0, count)
}

/**
 * Memory for one run after the other, for those whose records nobody keeps: most runs of a search end early, and making room
 * for every request would take longer than they do. A record is good until the next run takes the memory.
 */
export class RunMemory {
  private columns = freshColumns(0)
  /** requests, from the first on, of which the last run may have written something */
  private written = 0

  take(count: number): Columns {
    if (count > this.columns.start.length) this.columns = freshColumns(count)
    else clear(this.columns, this.written)
    this.written = count
    const { start, firstToken, end, outcome, rejectCause, replica, next, previous, after } = this.columns
    return {
      start: start.subarray(0, count),
      firstToken: firstToken.subarray(0, count),
      end: end.subarray(0, count),
      outcome: outcome.subarray(0, count),
      rejectCause: rejectCause.subarray(0, count),
      replica: replica.subarray(0, count),
      next,
      previous,
      after,
    }
  }

  /** Tells that the run that took it wrote of no more than so many, from the first on. */
  wroteOf(count: number): void {
    this.written = count
  }
}
