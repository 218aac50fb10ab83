/** Load of a replica that takes nothing: larger than any real one. */
const CLOSED = 0x7fffffff
/** So few are looked through faster than a tournament is kept. */
const FEW = 8

/**
 * Finds the replica with the smallest load, ties to the lowest number: a tournament over loads, so that a change
 * costs at most log₂(replicas) comparisons and the winner none. A few replicas are simply looked through.
 */
export class LeastBusy {
  private readonly load: Int32Array
  /** of replicas that drain: what they have still */
  private readonly kept: Int32Array
  private readonly winner: Int32Array
  private readonly leaves: number
  /** replicas with anything in them, and requests in all of them together */
  occupied = 0
  total = 0
  /** open replicas that got their first or lost their last since somebody emptied the list; undefined while nobody wants to know */
  turned: number[] | undefined

  constructor(replicas: number) {
    let leaves = 1
    while (leaves < replicas) leaves *= 2
    this.leaves = leaves
    this.load = new Int32Array(leaves).fill(CLOSED)
    this.kept = new Int32Array(leaves)
    this.winner = new Int32Array(2 * leaves)
    for (let i = 0; i < leaves; i++) this.winner[leaves + i] = i
    for (let i = leaves - 1; i > 0; i--) this.winner[i] = this.winner[2 * i]
  }

  /** Starts to consider a replica, with nothing in it. */
  open(replica: number): void {
    this.load[replica] = 0
    this.turned?.push(replica)
    this.replay(replica)
  }

  /** Considers a replica no more; what it has is counted on. */
  close(replica: number): void {
    this.kept[replica] = this.load[replica]
    this.load[replica] = CLOSED
    this.replay(replica)
  }

  add(replica: number, change: number): void {
    this.total += change
    if (this.load[replica] === CLOSED) {
      this.kept[replica] += change
      if (this.kept[replica] === 0) this.occupied--
      return
    }
    const now = (this.load[replica] += change)
    if (now === 0) {
      this.occupied--
      this.turned?.push(replica)
    } else if (now === change && change > 0) {
      this.occupied++
      this.turned?.push(replica)
    }
    if (this.leaves > FEW) this.replay(replica)
  }

  /** Requests that a replica has, whether it is open or drains. */
  has(replica: number): number {
    return this.load[replica] === CLOSED ? this.kept[replica] : this.load[replica]
  }

  isOpen(replica: number): boolean {
    return this.load[replica] !== CLOSED
  }

  of(replica: number): number {
    return this.load[replica]
  }

  /** @returns the least busy open replica, or −1 when none is open */
  first(): number {
    if (this.leaves <= FEW) return this.scan()
    const replica = this.winner[1]
    return this.load[replica] === CLOSED ? -1 : replica
  }

  private scan(): number {
    const { load } = this
    let best = 0
    let least = load[0]
    for (let r = 1; r < load.length; r++) {
      if (load[r] < least) {
        least = load[r]
        best = r
      }
    }
    return least === CLOSED ? -1 : best
  }

  private replay(replica: number): void {
    const { winner, load } = this
    for (let node = (this.leaves + replica) >> 1; node > 0; node >>= 1) {
      const left = winner[2 * node]
      const right = winner[2 * node + 1]
      const before = winner[node]
      const now = load[left] <= load[right] ? left : right
      winner[node] = now
      // A match that this replica neither won nor wins is as it was, and so is every one above it.
      if (before !== replica && now !== replica) return
    }
  }
}
