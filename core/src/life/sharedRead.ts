/**
 * Readers of one source that divides its rate evenly among those who read, each of whom takes no more than its own rate.
 * Exact, by events: all advance alike, so that a reader is done when the common count of bytes has grown by its own.
 */
export class SharedRead {
  private readonly totalBytesPerSecond: number
  private readonly eachBytesPerSecond: number
  /** bytes that every reader who was there from the start would have read */
  private common = 0
  private readAt = 0
  private readonly goal = new Map<number, number>()

  /** @param totalBytesPerSecond Infinity for a source that nobody slows */
  constructor(totalBytesPerSecond: number, eachBytesPerSecond: number) {
    this.totalBytesPerSecond = totalBytesPerSecond
    this.eachBytesPerSecond = eachBytesPerSecond
  }

  private rate(): number {
    return Math.min(this.eachBytesPerSecond, this.totalBytesPerSecond / Math.max(1, this.goal.size))
  }

  private advance(now: number): void {
    if (this.goal.size > 0) this.common += (now - this.readAt) * this.rate()
    this.readAt = now
  }

  join(reader: number, bytes: number, now: number): void {
    this.advance(now)
    this.goal.set(reader, this.common + bytes)
  }

  leave(reader: number, now: number): void {
    if (!this.goal.has(reader)) return
    this.advance(now)
    this.goal.delete(reader)
  }

  /** When the next reader is done; Infinity when nobody reads. */
  nextEnd(): number {
    const [, least] = this.first()
    return least === Infinity ? Infinity : this.readAt + Math.max(0, least - this.common) / this.rate()
  }

  /** Takes out who is done first; the lower number of two. */
  takeFirst(now: number): number {
    const [reader, goal] = this.first()
    this.goal.delete(reader)
    this.common = goal
    this.readAt = now
    return reader
  }

  private first(): [reader: number, goal: number] {
    let best: [number, number] = [-1, Infinity]
    for (const [reader, goal] of this.goal) if (goal < best[1] || (goal === best[1] && reader < best[0])) best = [reader, goal]
    return best
  }
}
