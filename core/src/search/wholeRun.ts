import type { TargetReading } from '../measure/targets.ts'
import type { RunRecord } from '../engine/record.ts'
import type { LifeRecord } from '../life/startRules.ts'
import type { Requests } from '../demand/requests.ts'
import type { Plan } from '../plan/schema.ts'
import type { RunSpec } from './alteration.ts'
import { costPerHour, fleetOf } from './candidate.ts'
import { runPerHours } from '../cost/bill.ts'
import { hasLife, livingFleetOf, type FleetSpec } from './life.ts'
import { tryOut } from './trial.ts'
import { profileOf } from './trialRunner.ts'

/** A configuration run to the end on the first draw, and what it costs per hour. */
export interface WholeRun {
  record: RunRecord
  life: LifeRecord | null
  perHour: number
  /** of every target, in the order of `targetsOf` */
  readings: TargetReading[]
  holds: boolean
}

export function wholeRun(plan: Plan, { service, candidate, groups }: RunSpec, requests: Requests): WholeRun {
  const fleet = hasLife(candidate) ? livingFleetOf(plan, candidate, groups, 0) : undefined
  const trial = tryOut({ plan, service, fleet, profile: profileOf(candidate), replicas: fleetOf(candidate, groups).replicas, requests, toTheEnd: true })
  if (trial.kind !== 'complete') throw new Error('a trial to the end did not get there')
  const { record, life, readings, holds } = trial
  return { record, life, readings, holds, perHour: runPerHour(plan, candidate, groups, record, life) }
}

/** What a run costs, per hour, with the best number of groups committed to where some can be. */
export function runPerHour(plan: Plan, candidate: FleetSpec, groups: number, record: RunRecord, life: LifeRecord | null): number {
  return candidate.paysByRun && life ? Math.min(...runPerHours(candidate, record, life, plan.horizon.seconds)) : costPerHour(candidate, groups)
}
