/**
 * What the replicas of a service do over time, in equal pieces of the horizon: the integrals of busy replicas, of
 * sequences (or requests) in service, and of cached tokens. Cache grows in steps; between two changes of composition it is
 * taken as a straight line, and what its steps read and reckon as even.
 */
export class Meter {
  readonly pieceSeconds: number
  /** replica-seconds in steps, by piece */
  readonly busySeconds: Float64Array
  /** seconds × requests that a step works on */
  readonly batchSeconds: Float64Array
  /** seconds × tokens in the cache */
  readonly cacheTokenSeconds: Float64Array
  /** seconds that reading weights and cache would take by itself, and arithmetic would; 0 of work that has no tokens */
  readonly memorySeconds: Float64Array
  readonly arithmeticSeconds: Float64Array
  /** replica-seconds in steps, by replica and piece; those that did nothing have none */
  private readonly busyByReplica: Float64Array[] = []

  constructor(horizonSeconds: number, pieces: number) {
    this.pieceSeconds = horizonSeconds / pieces
    this.busySeconds = new Float64Array(pieces)
    this.batchSeconds = new Float64Array(pieces)
    this.cacheTokenSeconds = new Float64Array(pieces)
    this.memorySeconds = new Float64Array(pieces)
    this.arithmeticSeconds = new Float64Array(pieces)
  }

  /** What one replica did of the busy time, by piece; undefined when it did nothing. */
  busyOf(replica: number): Float64Array | undefined {
    return this.busyByReplica.at(replica)
  }

  /**
   * One replica works on n requests in [from, until), its cache growing from one count to another.
   *
   * @param memorySeconds that all its steps together would take to read, and to reckon
   */
  span(
    replica: number,
    from: number,
    until: number,
    n: number,
    cacheFrom: number,
    cacheUntil: number,
    memorySeconds = 0,
    arithmeticSeconds = 0,
  ): void {
    const { pieceSeconds, busySeconds } = this
    const own = (this.busyByReplica[replica] ??= new Float64Array(busySeconds.length))
    const whole = until - from
    const growth = until > from ? (cacheUntil - cacheFrom) / (until - from) : 0
    let piece = Math.floor(from / pieceSeconds)
    for (let t = from; t < until && piece < busySeconds.length; piece++) {
      const end = Math.min(until, (piece + 1) * pieceSeconds)
      const seconds = end - t
      busySeconds[piece] += seconds
      own[piece] += seconds
      this.batchSeconds[piece] += seconds * n
      this.memorySeconds[piece] += (memorySeconds * seconds) / whole
      this.arithmeticSeconds[piece] += (arithmeticSeconds * seconds) / whole
      this.cacheTokenSeconds[piece] += seconds * (cacheFrom + growth * ((t + end) / 2 - from))
      t = end
    }
  }
}
