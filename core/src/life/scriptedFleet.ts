import type { FleetHands, FleetLife, WaitClocks } from './fleet.ts'

/** One thing that happens to one replica. */
export interface FleetEvent {
  seconds: number
  replica: number
  what: 'open' | 'drain' | 'lose'
}

/** A fleet to which stated things happen at stated times: drills, and comparisons of two engines. */
export class ScriptedFleet implements FleetLife {
  readonly moves = true
  readonly refusesWhileAsleep = false
  readonly slots: number
  private readonly events: readonly FleetEvent[]
  private next = 0
  private readonly firstReady: number

  /** @param events in order of time; at one time in the order given */
  constructor(slots: number, events: readonly FleetEvent[]) {
    this.slots = slots
    this.events = events
    this.firstReady = events.find((e) => e.what === 'open')?.seconds ?? Infinity
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

  nextReading(): number {
    return Infinity
  }

  read(): void {
    // The script is all there is.
  }

  arrived(): void {
    // See above.
  }

  idle(): void {
    // The script goes on.
  }

  emptied(): void {
    // Nothing follows from it.
  }

  end(): void {
    // Nothing is left open.
  }

  clocks(now: number): WaitClocks {
    return { machineSeconds: 0, startUpSeconds: Math.min(now, this.firstReady) }
  }
}
