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
}

/** Says how many replicas there should be. Whatever it remembers is its own; it never sees more than observations. */
export interface Controller {
  readonly intervalSeconds: number
  /** replicas at the start */
  readonly initial: number
  readonly most: number
  wish: (seen: Observation) => { replicas: number; cause: string; read?: number }
  /** to zero after so long without a request; absent: never */
  readonly idle?: { seconds: number; firstCaller: 'hold' | 'refuse' }
  /** replicas come with callers who find no room, and go after so long without one; absent: by readings alone */
  readonly onCall?: { perReplica: number; keptSeconds: number }
  /** background calls that stop the idle clock, and wake a service that sleeps: the next one after a time */
  nextPing: (after: number) => number
}
