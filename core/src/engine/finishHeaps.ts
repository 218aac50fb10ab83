/**
 * For every replica a binary heap of its active sequences by the decode step with which they finish, ties by request.
 * Flat arrays of `capacity` entries a replica.
 */
export class FinishHeaps {
  readonly size: Int32Array
  /** step counts outgrow 32 bits when steps are very short */
  private readonly step: Float64Array
  private readonly request: Int32Array
  private readonly capacity: number

  constructor(replicas: number, capacity: number) {
    this.capacity = capacity
    this.size = new Int32Array(replicas)
    this.step = new Float64Array(replicas * capacity)
    this.request = new Int32Array(replicas * capacity)
  }

  /** the step with which the next sequence finishes; the heap must not be empty */
  firstStep(replica: number): number {
    return this.step[replica * this.capacity]
  }

  push(replica: number, step: number, request: number): void {
    const base = replica * this.capacity
    let i = this.size[replica]++
    while (i > 0) {
      const up = (i - 1) >> 1
      if (!this.before(step, request, base + up)) break
      this.move(base + up, base + i)
      i = up
    }
    this.step[base + i] = step
    this.request[base + i] = request
  }

  /** Takes out the sequence that finishes first and gives its request. */
  pop(replica: number): number {
    const base = replica * this.capacity
    const out = this.request[base]
    const size = --this.size[replica]
    const step = this.step[base + size]
    const request = this.request[base + size]
    let i = 0
    for (;;) {
      let down = 2 * i + 1
      if (down >= size) break
      if (down + 1 < size && this.before(this.step[base + down + 1], this.request[base + down + 1], base + down)) down++
      if (this.before(step, request, base + down)) break
      this.move(base + down, base + i)
      i = down
    }
    this.step[base + i] = step
    this.request[base + i] = request
    return out
  }

  private before(step: number, request: number, place: number): boolean {
    return step < this.step[place] || (step === this.step[place] && request < this.request[place])
  }

  private move(from: number, to: number): void {
    this.step[to] = this.step[from]
    this.request[to] = this.request[from]
  }
}
