import type { LateSplit } from './lateSplit.ts'
import type { Meter } from './meter.ts'
import type { MissWatch } from './missWatch.ts'

/** Who hears of every token and every end in the moment in which it happens. */
export interface Listener {
  /** a request has so many more tokens of its answer; parts of a token where drafts are accepted on average */
  tokens(request: number, count: number, now: number): void
  /** it is answered, refused or lost */
  ended(request: number, now: number): void
}

/** Who looks on while a simulation runs. None of them changes what happens, but a watch may end it early. */
export interface Observers {
  /** ends the run when one of its promises is beyond repair */
  watch?: MissWatch
  /** splits the time of late requests by cause */
  late?: LateSplit
  /** what replicas do over time */
  meter?: Meter
  /** where there is one every step is taken by itself */
  listener?: Listener
}
