/**
 * For every replica a binary heap of what it has in service by the mark at which it finishes (a count of decode steps, or
 * virtual time), ties by request.
 * Flat arrays of `capacity` entries a replica.
 */
export class FinishHeaps {
  readonly size: Int32Array
  /** counts of steps outgrow 32 bits when steps are very short */
  private readonly mark: Float64Array
  private readonly request: Int32Array
  private readonly capacity: number

  constructor(replicas: number, capacity: number) {
    this.capacity = capacity
    this.size = new Int32Array(replicas)
    this.mark = new Float64Array(replicas * capacity)
    this.request = new Int32Array(replicas * capacity)
  }

  /** the mark at which the next one finishes; the heap must not be empty */
  firstMark(replica: number): number {
    return this.mark[replica * this.capacity]
  }

  push(replica: number, mark: number, request: number): void {
    const base = replica * this.capacity
    let i = this.size[replica]++
    while (i > 0) {
      const up = (i - 1) >> 1
      if (!this.before(mark, request, base + up)) break
      this.move(base + up, base + i)
      i = up
    }
    this.mark[base + i] = mark
    this.request[base + i] = request
  }

  /** Takes out the one that finishes first and gives its request. */
  pop(replica: number): number {
    const base = replica * this.capacity
    const out = this.request[base]
    this.fill(replica, 0)
    return out
  }

  /** Place of the one with the largest stamp, and so the last one stamped; the heap must not be empty. */
  latest(replica: number, stamp: Int32Array): number {
    const base = replica * this.capacity
    let best = 0
    for (let i = 1; i < this.size[replica]; i++) if (stamp[this.request[base + i]] > stamp[this.request[base + best]]) best = i
    return best
  }

  /** The request and the mark at a place that {@link latest} gave. */
  requestAt(replica: number, place: number): number {
    return this.request[replica * this.capacity + place]
  }

  markAt(replica: number, place: number): number {
    return this.mark[replica * this.capacity + place]
  }

  /** Takes out whoever is at a place. */
  removeAt(replica: number, place: number): void {
    this.fill(replica, place)
  }

  /** Closes the gap at a place with the last entry. */
  private fill(replica: number, place: number): void {
    const base = replica * this.capacity
    const size = --this.size[replica]
    const mark = this.mark[base + size]
    const request = this.request[base + size]
    let i = place
    while (i > 0) {
      const up = (i - 1) >> 1
      if (!this.before(mark, request, base + up)) break
      this.move(base + up, base + i)
      i = up
    }
    for (;;) {
      let down = 2 * i + 1
      if (down >= size) break
      if (down + 1 < size && this.before(this.mark[base + down + 1], this.request[base + down + 1], base + down)) down++
      if (this.before(mark, request, base + down)) break
      this.move(base + down, base + i)
      i = down
    }
    this.mark[base + i] = mark
    this.request[base + i] = request
  }

  private before(mark: number, request: number, place: number): boolean {
    return mark < this.mark[place] || (mark === this.mark[place] && request < this.request[place])
  }

  private move(from: number, to: number): void {
    this.mark[to] = this.mark[from]
    this.request[to] = this.request[from]
  }
}
