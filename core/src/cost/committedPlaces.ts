/**
 * Places that are committed to: paid always. Whoever is ordered while enough of them are free fills them for as long as it
 * lives. Those who want places come in the order in which they are ordered.
 */
export class CommittedPlaces {
  private readonly freeFrom: Float64Array

  constructor(count: number) {
    this.freeFrom = new Float64Array(count)
  }

  /** Fills so many places from one time, in seconds, until another; false, and nothing is filled, when fewer are free. */
  fill(from: number, until: number, width = 1): boolean {
    const { freeFrom } = this
    const free: number[] = []
    for (let p = 0; p < freeFrom.length && free.length < width; p++) if (freeFrom[p] <= from) free.push(p)
    if (free.length < width) return false
    for (const p of free) freeFrom[p] = until
    return true
  }
}
