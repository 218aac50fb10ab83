/**
 * Replicas that have nothing, in the order in which that began, each kept for the same time. Whoever gets something again
 * stays in the queue and is passed over: nothing is looked through.
 */
export class KeptEmpty {
  private readonly keptSeconds: number
  /** by replica; Infinity for one that has something */
  private readonly since: Float64Array
  private queue: { replica: number; since: number }[] = []
  private head = 0

  /** @param keptSeconds Infinity for ever */
  constructor(replicas: number, keptSeconds: number) {
    this.since = new Float64Array(replicas).fill(Infinity)
    this.keptSeconds = keptSeconds
  }

  turned(replica: number, empty: boolean, now: number): void {
    if (empty === this.since[replica] < Infinity) return
    this.since[replica] = empty ? now : Infinity
    if (empty) this.queue.push({ replica, since: now })
  }

  /** When the first of them was kept for long enough. */
  nextEnd(): number {
    this.passOver()
    return this.head < this.queue.length ? this.queue[this.head].since + this.keptSeconds : Infinity
  }

  /** One that was kept for long enough, of equals the lowest number first; −1 for none. It is forgotten. */
  takeEnded(now: number): number {
    if (this.nextEnd() > now) return -1
    const { since } = this.queue[this.head]
    let first = this.queue[this.head].replica
    for (let i = this.head; i < this.queue.length && this.queue[i].since === since; i++) {
      const { replica } = this.queue[i]
      if (this.since[replica] === since) first = Math.min(first, replica)
    }
    this.since[first] = Infinity
    return first
  }

  private passOver(): void {
    while (this.head < this.queue.length && this.since[this.queue[this.head].replica] !== this.queue[this.head].since) this.head++
    if (this.head < LONG) return
    this.queue = this.queue.slice(this.head)
    this.head = 0
  }
}

/** So many that were passed over are dropped together. */
const LONG = 1024
