/** Room at first: many runs end soon. */
const FIRST_ROWS = 64

/**
 * Rows of numbers with their times, the last ones: what a window until now is asked of. Times ascend.
 */
export class Trail {
  count = 0
  seconds = new Float64Array(FIRST_ROWS)
  readonly columns: Float64Array[]
  private readonly keptSeconds: number

  /** @param keptSeconds the longest window that is asked for */
  constructor(columns: number, keptSeconds: number) {
    this.columns = Array.from({ length: columns }, () => new Float64Array(FIRST_ROWS))
    this.keptSeconds = keptSeconds
  }

  /** Adds a row, all of it 0 at first, and says where it is. */
  add(now: number): number {
    if (this.count === this.seconds.length) this.makeRoom(now)
    this.seconds[this.count] = now
    for (const column of this.columns) column[this.count] = 0
    return this.count++
  }

  /** The last row that is no later than a time; the first of those that are kept if none is. */
  lastUntil(seconds: number): number {
    let i = this.count - 1
    while (i > 0 && this.seconds[i] > seconds) i--
    return i
  }

  /**
   * What is older than the window that is kept is forgotten where that is most of it; else there is more room. The last row that is old
   * enough stays.
   */
  private makeRoom(now: number): void {
    const first = this.lastUntil(now - this.keptSeconds)
    if (first > this.count / 2) {
      for (const rows of [this.seconds, ...this.columns]) rows.copyWithin(0, first, this.count)
      this.count -= first
      return
    }
    const larger = (rows: Float64Array) => {
      const out = new Float64Array(rows.length * 2)
      out.set(rows)
      return out
    }
    this.seconds = larger(this.seconds)
    this.columns.forEach((rows, c) => (this.columns[c] = larger(rows)))
  }
}
