import { costPerHour } from '../candidate/candidate.ts'
import { runPerHours } from '../cost/bill.ts'
import type { Requests } from '../demand/requests.ts'
import { allHold, readings } from '../measure/placedTargets.ts'
import type { TargetReading } from '../measure/targets.ts'
import type { Plan } from '../plan/schema.ts'
import { run, type Complete } from './run.ts'
import type { RunSpec } from './spec.ts'

/** A configuration run to the end on one draw, the first if nothing else is said, and what it costs per hour. */
export interface WholeRun extends Complete {
  perHour: number
  /** of every target, in the order of `targetsOf` */
  readings: TargetReading[]
  holds: boolean
}

export function wholeRun(plan: Plan, spec: RunSpec, requests: Requests, repetition = 0): WholeRun {
  const complete = run(plan, spec, requests, { repetition, toTheEnd: true })
  const read = readings(plan, spec.service, complete.record)
  return { ...complete, readings: read, holds: allHold(plan, spec.service, read), perHour: perHourOf(plan, spec, complete) }
}

function perHourOf({ horizon }: Plan, { candidate, groups }: RunSpec, { record, life }: Complete): number {
  return candidate.paysByRun ? Math.min(...runPerHours(candidate, record, life, horizon.seconds)) : costPerHour(candidate, groups)
}
