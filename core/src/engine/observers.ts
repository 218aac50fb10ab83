import type { LateSplit } from './lateSplit.ts'
import type { Meter } from './meter.ts'
import type { MissWatch } from './missWatch.ts'

/** Who looks on while a simulation runs. None of them changes what happens, but a watch may end it early. */
export interface Observers {
  /** ends the run when one of its promises is beyond repair */
  watch?: MissWatch
  /** splits the time of late requests by cause */
  late?: LateSplit
  /** what replicas do over time */
  meter?: Meter
}
