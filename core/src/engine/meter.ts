/**
 * What the replicas of a service do over time, in equal pieces of the horizon: the integrals of busy replicas, of
 * sequences (or requests) in service, and of cached tokens. Cache grows in steps; between two changes of composition it is
 * taken as a straight line.
 */
export class Meter {
  readonly pieceSeconds: number
  /** replica-seconds in steps, by piece */
  readonly busySeconds: Float64Array
  /** seconds × requests that a step works on */
  readonly batchSeconds: Float64Array
  /** seconds × tokens in the cache */
  readonly cacheTokenSeconds: Float64Array

  constructor(horizonSeconds: number, pieces: number) {
    this.pieceSeconds = horizonSeconds / pieces
    this.busySeconds = new Float64Array(pieces)
    this.batchSeconds = new Float64Array(pieces)
    this.cacheTokenSeconds = new Float64Array(pieces)
  }

  /** One replica works on n requests in [from, until), its cache growing from one count to another. */
  span(from: number, until: number, n: number, cacheFrom: number, cacheUntil: number): void {
    const { pieceSeconds, busySeconds } = this
    const growth = until > from ? (cacheUntil - cacheFrom) / (until - from) : 0
    let piece = Math.floor(from / pieceSeconds)
    for (let t = from; t < until && piece < busySeconds.length; piece++) {
      const end = Math.min(until, (piece + 1) * pieceSeconds)
      const seconds = end - t
      busySeconds[piece] += seconds
      this.batchSeconds[piece] += seconds * n
      this.cacheTokenSeconds[piece] += seconds * (cacheFrom + growth * ((t + end) / 2 - from))
      t = end
    }
  }
}
