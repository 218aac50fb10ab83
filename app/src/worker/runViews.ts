import type {
  BadMoment,
  FleetPicture,
  Happening,
  LaneSpans,
  LateSums,
  Ledger,
  RunSummary,
  StepSeries,
  Target,
  Timeline,
} from '@sandclock/core'

/** How a fleet came and went, with as much of its stretches as a picture can show. */
export type FleetView = Omit<FleetPicture, 'spans'> & { spans: LaneSpans }

/** A run in a window of time, as the Run view draws it. */
export interface RunView {
  timeline: Timeline
  /** rows of replicas */
  lanes: number
  /** how the fleet came and went; null for one that is there all the time */
  fleet: FleetView | null
  told: Happening[]
  /** what is paid an hour, over time */
  paid: StepSeries
  perHour: number
  /** it is sold by tokens, and has one lane */
  byTokens: boolean
  /** requests that a replica serves side by side, by tokens the most that were in what is shown; and replicas that there may be */
  maxSequences: number
  replicas: number
  /**
   * the least and the most that the scaler's first metric read in each piece, per ready replica; NaN where it read nothing; null for a
   * fleet without
   */
  reads: { low: Float32Array; high: Float32Array } | null
  /** of the whole run, worst first */
  moments: BadMoment[]
}

/** The money of a run. */
export interface MoneyView {
  ledger: Ledger
  /** share of each class of the service, by its time in service */
  classes: { name: string; share: number }[]
}

/** A run as it is compared with others. */
export interface PinnedRun {
  perHour: number
  /** what is paid an hour, and replicas that are ready, over time */
  paid: StepSeries
  ready: StepSeries
  /** of the first draw, in the order of the plan; strain 1 is just enough */
  promises: { className: string; target: Target; value: number | undefined; strain: number; misses: number }[]
  timeline: Timeline
}

/** The figures of a run for a window of it. */
export interface RunFigures {
  run: RunSummary
  remarks: string[]
  late: LateSums
}
