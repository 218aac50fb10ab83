import { membersOf, type Requests } from '../demand/requests.ts'

/**
 * When the next waiting request runs out of patience. Within a class patience is the same, so deadlines come in
 * order of arrival: a pointer for each class is enough.
 */
export class Patience {
  private readonly byClass: { patience: number; members: Int32Array; head: number }[] = []
  private readonly at: Float64Array

  constructor(requests: Requests, patienceSeconds: readonly number[]) {
    this.at = requests.at
    patienceSeconds.forEach((patience, c) => {
      if (patience === Infinity) return
      this.byClass.push({ patience, members: membersOf(requests, c), head: 0 })
    })
  }

  /** Time of the next deadline, of whoever has it; Infinity when there is none. */
  next(): number {
    let soonest = Infinity
    for (const line of this.byClass) {
      if (line.head < line.members.length) soonest = Math.min(soonest, this.at[line.members[line.head]] + line.patience)
    }
    return soonest
  }

  /** Takes out the request whose deadline is the given one; it may have been started long ago. */
  take(deadline: number): number {
    for (const line of this.byClass) {
      const request = line.members[line.head]
      if (line.head < line.members.length && this.at[request] + line.patience === deadline) {
        line.head++
        return request
      }
    }
    throw new Error('no request has this deadline')
  }
}
