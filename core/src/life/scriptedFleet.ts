import { HeedlessFleet, type FleetHands } from './fleet.ts'

/** One thing that happens to one replica. */
export interface FleetEvent {
  seconds: number
  replica: number
  what: 'open' | 'drain' | 'lose'
}

/** A fleet to which stated things happen at stated times: drills, and comparisons of two engines. */
export class ScriptedFleet extends HeedlessFleet {
  readonly moves = true
  readonly slots: number
  private readonly events: readonly FleetEvent[]
  private next = 0

  /** @param events in order of time; at one time in the order given */
  constructor(slots: number, events: readonly FleetEvent[]) {
    super()
    this.slots = slots
    this.events = events
  }

  nextChange(): number {
    return this.next < this.events.length ? this.events[this.next].seconds : Infinity
  }

  happen(now: number, hands: FleetHands): void {
    while (this.nextChange() <= now) {
      const { replica, what } = this.events[this.next++]
      hands[what](replica)
    }
  }

  protected override firstReady(): number {
    return this.events.find((e) => e.what === 'open')?.seconds ?? Infinity
  }
}
