import { follows, type Requests } from '../demand/requests.ts'
import type { Comings } from './comings.ts'

/** Who comes next: requests that come at times of their own, in their order, and those that others bring about. */
export class OwnArrivals {
  private readonly requests: Requests
  private readonly comings: Comings
  private next = 0

  /** @param comings those who come again, or after another of their chain */
  constructor(requests: Requests, comings: Comings) {
    this.requests = requests
    this.comings = comings
    this.skipFollowers()
  }

  /** When the next comes at a time of its own; Infinity after the last. */
  nextTime(): number {
    const { requests } = this
    return this.next < requests.count ? requests.at[this.next] : Infinity
  }

  /** Takes whoever arrives next of all; at one time the lower number first. @param ownTime {@link nextTime} */
  take(ownTime: number): number {
    const { comings } = this
    const coming = comings.firstTime()
    if (coming < ownTime || (coming === ownTime && comings.first() < this.next)) return comings.pop()
    const request = this.next++
    this.skipFollowers()
    return request
  }

  /** Requests, from the first on, of which something may be written: those who follow others may be any. */
  get written(): number {
    return this.requests.chain === undefined ? this.next : this.requests.count
  }

  private skipFollowers(): void {
    const { requests } = this
    if (requests.chain === undefined) return
    while (this.next < requests.count && follows(requests, this.next)) this.next++
  }
}
