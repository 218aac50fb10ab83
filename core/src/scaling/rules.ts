import type { MetricName } from '../plan/ways.ts'

export interface MetricRule {
  metric: MetricName
  /** requests, share 0…1, requests a second, requests, share 0…1 */
  target: number
  windowSeconds: number
  /** host-cpu: what the host shows at rest and for each request in flight; it is blind to how busy an accelerator is */
  baseShare: number
  sharePerRequest: number
}

/** So many replicas, or so many per cent of those at the start of the period, in each period. */
export interface SpeedLimit {
  unit: 'replicas' | 'percent'
  amount: number
  periodSeconds: number
}

export interface Direction {
  stabilisationSeconds: number
  /** the one that lets most through counts; none: no limit */
  limits: readonly SpeedLimit[]
}

/** A weekly window with a larger minimum. Seconds of the day; days from 0, Monday. */
export interface ScheduleWindow {
  days: readonly number[]
  fromSeconds: number
  untilSeconds: number
  min: number
}

export interface AheadRule {
  from: 'plan' | 'past-week'
  /** requests a second that one replica bears */
  perReplica: number
  leadSeconds: number
}

export interface ScalingRules {
  min: number
  max: number
  intervalSeconds: number
  /** deviation of metric/target from 1 that is left alone */
  tolerance: number
  metrics: readonly MetricRule[]
  up: Direction
  down: Direction
  schedule: readonly ScheduleWindow[]
  ahead?: AheadRule
  idle?: { seconds: number; firstCaller: 'hold' | 'refuse' }
  /** background calls every so often, and calls at times of the day */
  keepAwakeSeconds: number
  wakeAtSeconds: readonly number[]
  /** visits that wake it, seconds of the horizon, ascending */
  visits?: Float64Array
}

/** What policies know of the world beside observations. */
export interface ScalingContext {
  /** second of the week, from Monday 00:00, at which the horizon begins */
  weekStartSeconds: number
  /** requests a second that the plan expects at a time of the horizon */
  expectedRate: (seconds: number) => number
}

export const DAY_SECONDS = 86_400
export const WEEK_SECONDS = 7 * DAY_SECONDS

/** A fixed number of replicas, in the terms of scaling. */
export function fixedRules(replicas: number): ScalingRules {
  const still = { stabilisationSeconds: 0, limits: [] }
  return {
    min: replicas,
    max: replicas,
    intervalSeconds: Infinity,
    tolerance: 0,
    metrics: [],
    up: still,
    down: still,
    schedule: [],
    keepAwakeSeconds: Infinity,
    wakeAtSeconds: [],
  }
}
