/** What is read, and by whom: images by the machine that pulls them, weights by the replica that wants them. */
export type ReadKind = 'image' | 'weights'

/** Bytes a second of one source: of one reader, and of all together (Infinity for a source that nobody slows). */
export interface Source {
  eachBytesPerSecond: number
  totalBytesPerSecond: number
}

interface Read {
  kind: ReadKind
  reader: number
  machine: number
  left: number
  rate: number
}

/**
 * Reads that go on at the same time. A source divides its rate evenly among those that read from it, a machine its network
 * among all that is read on it; nobody is faster than one reader may be: the least of the three, from one change to the next.
 * Exact, by events.
 */
export class Reads {
  private readonly sources: Record<ReadKind, Source>
  private readonly networkBytesPerSecond: number
  private reads: Read[] = []
  private readonly onMachine = new Map<number, number>()
  private readonly ofSource: Record<ReadKind, number> = { image: 0, weights: 0 }
  private at = 0

  /** @param networkBytesPerSecond of one machine, Infinity where it slows nobody */
  constructor(sources: Record<ReadKind, Source>, networkBytesPerSecond: number) {
    this.sources = sources
    this.networkBytesPerSecond = networkBytesPerSecond
  }

  join(kind: ReadKind, reader: number, machine: number, bytes: number, now: number): void {
    this.advance(now)
    this.reads.push({ kind, reader, machine, left: bytes, rate: 0 })
    this.count(kind, machine, 1)
  }

  leave(kind: ReadKind, reader: number, now: number): void {
    const place = this.reads.findIndex((r) => r.kind === kind && r.reader === reader)
    if (place < 0) return
    this.advance(now)
    this.remove(place)
  }

  /** When the next read is done; Infinity when nobody reads. */
  nextEnd(): number {
    let next = Infinity
    for (const { left, rate } of this.reads) next = Math.min(next, this.at + Math.max(0, left) / rate)
    return next
  }

  /** Takes out what is done at `now`, if anything: images before weights, of one kind the lower number. */
  takeDone(now: number): { kind: ReadKind; reader: number } | undefined {
    if (this.nextEnd() > now) return undefined
    let best = -1
    this.reads.forEach((r, i) => {
      if (this.at + Math.max(0, r.left) / r.rate > now) return
      const other = this.reads[best]
      if (best < 0 || (r.kind === other.kind ? r.reader < other.reader : r.kind === 'image')) best = i
    })
    const { kind, reader } = this.reads[best]
    this.advance(now)
    this.remove(best)
    return { kind, reader }
  }

  private remove(place: number): void {
    const [{ kind, machine }] = this.reads.splice(place, 1)
    this.count(kind, machine, -1)
  }

  /** One more or one fewer: everybody's rate is new. */
  private count(kind: ReadKind, machine: number, by: 1 | -1): void {
    this.ofSource[kind] += by
    this.onMachine.set(machine, (this.onMachine.get(machine) ?? 0) + by)
    for (const r of this.reads) {
      const { eachBytesPerSecond, totalBytesPerSecond } = this.sources[r.kind]
      r.rate = Math.min(
        eachBytesPerSecond,
        totalBytesPerSecond / this.ofSource[r.kind],
        this.networkBytesPerSecond / (this.onMachine.get(r.machine) ?? 1),
      )
    }
  }

  private advance(now: number): void {
    for (const r of this.reads) r.left -= (now - this.at) * r.rate
    this.at = now
  }
}
