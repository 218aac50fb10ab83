import type { HostCurve } from './controller.ts'

/**
 * What a fleet may do to the replicas of a running simulation. Replicas are numbered slots: one that is gone leaves its number to the
 * next.
 */
export interface FleetHands {
  /** takes requests from now on, with nothing in it */
  open: (replica: number) => void
  /** takes nothing new; what it has goes on */
  drain: (replica: number) => void
  /** is gone at once: what it had is lost */
  lose: (replica: number) => void
}

/** Counts of the whole service, as a scaler reads them: arrivals, and areas under the counts, since the start. */
export interface Gauge {
  now: number
  arrivals: number
  /** seconds × requests waiting or in service, × those that wait, × replicas with something to do */
  inFlightArea: number
  waitingArea: number
  busyArea: number
  /** seconds × what a host shows, by curve: each moment's, so that a peak above what there is does not count */
  hostAreas: Float64Array
}

/** Seconds until now in which callers waited for capacity that was on its way, by what it waited for itself. */
export interface WaitClocks {
  machineSeconds: number
  startUpSeconds: number
}

/** How replicas come and go: the engine asks when something happens next, and lets it happen first in its instant. */
export interface FleetLife {
  /** replicas that there may be at one time */
  readonly slots: number
  /** whether anything beyond the first readiness can happen, so that the engine keeps a gauge and tells of what it does */
  readonly moves: boolean
  /** whether a caller who finds no replica ready is refused */
  readonly refusesWhileAsleep: boolean
  nextChange: () => number
  happen: (now: number, hands: FleetHands) => void
  /** what hosts show that the fleet reads */
  readonly hostCurves: readonly HostCurve[]
  /** when a drain's grace is over, or the scaler reads: last in its instant, in this order */
  nextReading: () => number
  read: (gauge: Gauge, hands: FleetHands) => void
  /** a request came */
  arrived: (now: number) => void
  /** whether the fleet wants to hear of callers who find no room, and of replicas that have nothing */
  readonly onCall: boolean
  /** callers that what is on its way has room for, and what one more caller would bring */
  comingRoom: () => number
  /** so many wait and find no room */
  crowded: (waiting: number, now: number) => void
  /** a replica got its first request, or its last is done; told after the event, maybe again of one that is as it was */
  turned: (replica: number, empty: boolean, now: number) => void
  /** no request is in the service */
  idle: (now: number) => void
  /** a replica that drains has nothing left */
  emptied: (replica: number, now: number) => void
  clocks: (now: number) => WaitClocks
  /** the run is over */
  end: (now: number) => void
}

/** A fleet that takes no notice of what goes on in it. */
export abstract class HeedlessFleet implements FleetLife {
  abstract readonly slots: number
  abstract readonly moves: boolean
  readonly refusesWhileAsleep = false
  readonly onCall = false
  readonly hostCurves: readonly HostCurve[] = []
  abstract nextChange(): number
  abstract happen(now: number, hands: FleetHands): void
  /** when the first replica is ready; Infinity for never */
  protected abstract firstReady(): number

  nextReading(): number {
    return Infinity
  }

  read(): void {
    // Nobody reads.
  }

  arrived(): void {
    // Whoever comes changes nothing.
  }

  comingRoom(): number {
    return 0
  }

  crowded(): void {
    // Whoever waits changes nothing.
  }

  turned(): void {
    // Nor whoever has nothing.
  }

  idle(): void {
    // Nor that nobody comes.
  }

  emptied(): void {
    // Nothing follows from it.
  }

  end(): void {
    // Nothing is left open.
  }

  /** Until the first is ready everybody waits for a start-up. */
  clocks(now: number): WaitClocks {
    return { machineSeconds: 0, startUpSeconds: Math.min(now, this.firstReady()) }
  }
}

/** A fleet that is there from given times on and stays: what every replica of it is ready at. */
export class FixedFleet extends HeedlessFleet {
  readonly slots: number
  readonly moves = false
  private readonly readyAt: Float64Array
  private readonly order: Int32Array
  private opened = 0

  /** @param readyAtSeconds by replica; Infinity for never */
  constructor(readyAtSeconds: Float64Array) {
    super()
    this.slots = readyAtSeconds.length
    this.readyAt = readyAtSeconds
    this.order = Int32Array.from(readyAtSeconds.keys()).sort((a, b) => readyAtSeconds[a] - readyAtSeconds[b] || a - b)
  }

  nextChange(): number {
    return this.opened < this.slots ? this.readyAt[this.order[this.opened]] : Infinity
  }

  happen(now: number, hands: FleetHands): void {
    while (this.nextChange() <= now) hands.open(this.order[this.opened++])
  }

  protected override firstReady(): number {
    return this.slots === 0 ? 0 : this.readyAt[this.order[0]]
  }
}
