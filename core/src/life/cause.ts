import type { MetricName } from '../plan/ways.ts'

/** Why a number of replicas is wanted. */
export type WishCause =
  | 'start'
  | 'minimum'
  | 'schedule'
  | 'expected'
  | 'within-tolerance'
  | 'enough-starting'
  | 'none-wanted'
  | 'nothing-to-go-by'
  | 'first-caller'
  | 'keep-awake-call'
  | 'caller-without-room'
  | 'nobody-called'
  | 'nobody-came'
  /** a metric, at so many per cent of its target */
  | { metric: MetricName; percent: number }

/** Why a replica, or the machine beneath it, is taken away. */
export type LossCause = 'fault' | 'drill' | 'machine-noticed' | 'machine-lost'

/** Why something happens to a replica. */
export type Cause =
  | WishCause
  | LossCause
  | 'stage-done'
  | 'fewer-wanted'
  | 'grace-over'
  | 'all-done'
  | 'timed-out'
  /** its machine is on its way */
  | { machineInSeconds: number }
  /** another is asked for because one is lost */
  | { inPlaceOf: LossCause }
