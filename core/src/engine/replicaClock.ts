import { instantOf } from './rules.ts'

/**
 * The next event of every replica: an indexed binary heap ordered by (time, replica number), times rounded to a nanosecond:
 * two that are equal but for rounding are in order of number (docs/model.md, 2). A replica without an event has time Infinity.
 */
export class ReplicaClock {
  readonly time: Float64Array
  /** the same in whole nanoseconds, by which they are ordered */
  private readonly instant: Float64Array
  private readonly heap: Int32Array
  private readonly place: Int32Array

  constructor(replicas: number) {
    this.time = new Float64Array(replicas).fill(Infinity)
    this.instant = new Float64Array(replicas).fill(Infinity)
    this.heap = Int32Array.from({ length: replicas }, (_, i) => i)
    this.place = this.heap.slice()
  }

  /** the replica whose event comes first */
  first(): number {
    return this.heap[0]
  }

  firstTime(): number {
    return this.time[this.heap[0]]
  }

  /** @throws RangeError when `seconds` is not a number: it would break the order for all */
  set(replica: number, seconds: number): void {
    if (seconds !== seconds) throw new RangeError(`replica ${replica}: an event at NaN`)
    const before = this.instant[replica]
    const instant = instantOf(seconds)
    this.time[replica] = seconds
    this.instant[replica] = instant
    if (instant < before) this.rise(this.place[replica])
    else this.sink(this.place[replica])
  }

  private earlier(a: number, b: number): boolean {
    const ta = this.instant[a]
    const tb = this.instant[b]
    return ta < tb || (ta === tb && a < b)
  }

  private rise(from: number): void {
    const { heap, place } = this
    const replica = heap[from]
    let i = from
    while (i > 0) {
      const up = (i - 1) >> 1
      if (!this.earlier(replica, heap[up])) break
      heap[i] = heap[up]
      place[heap[i]] = i
      i = up
    }
    heap[i] = replica
    place[replica] = i
  }

  private sink(from: number): void {
    const { heap, place } = this
    const replica = heap[from]
    const size = heap.length
    let i = from
    for (;;) {
      let down = 2 * i + 1
      if (down >= size) break
      if (down + 1 < size && this.earlier(heap[down + 1], heap[down])) down++
      if (!this.earlier(heap[down], replica)) break
      heap[i] = heap[down]
      place[heap[i]] = i
      i = down
    }
    heap[i] = replica
    place[replica] = i
  }
}
