import type { WishCause } from './cause.ts'

/** What a scaler may see of a service when it reads. */
export interface Observation {
  now: number
  /** replicas that take requests */
  ready: number
  /** those and the ones that start up */
  current: number
  /** means over the given window until now, of the whole service */
  inFlight: (windowSeconds: number) => number
  waiting: (windowSeconds: number) => number
  /** replicas with something to do */
  busy: (windowSeconds: number) => number
  arrivalsPerSecond: (windowSeconds: number) => number
  /** what the host of a ready replica shows, by the place of its curve */
  hostShare: (curve: number, windowSeconds: number) => number
}

/** What the processor of a host shows: so much at rest, and for each request in flight on it, at most 1. */
export interface HostCurve {
  baseShare: number
  sharePerRequest: number
}

/** Says how many replicas there should be. Whatever it remembers is its own; it never sees more than observations. */
export interface Controller {
  readonly intervalSeconds: number
  /** replicas at the start */
  readonly initial: number
  /** replicas that a schedule asks for at a time, the minimum at the least */
  scheduled?: (now: number) => number
  /** what its metrics read of hosts */
  readonly hostCurves?: readonly HostCurve[]
  readonly most: number
  wish: (seen: Observation) => { replicas: number; cause: WishCause; read?: number }
  /** to zero after so long without a request; absent: never */
  readonly idle?: { seconds: number; firstCaller: 'hold' | 'refuse' }
  /** replicas come with callers who find no room, and go after so long without one; absent: by readings alone */
  readonly onCall?: { perReplica: number; keptSeconds: number }
  /** background calls that stop the idle clock, and wake a service that sleeps: the next one after a time */
  nextPing: (after: number) => number
}
