import type { RunRecord } from '../engine/record.ts'
import type { Plan, Service, Target } from '../plan/schema.ts'
import { countedSelection } from './summary.ts'
import { wayPromised } from '../plan/way.ts'
import { holds, overdueSeconds, readTarget, unserved, type TargetReading } from './targets.ts'

/** One target of one class of a service. */
export interface PlacedTarget {
  classIndex: number
  className: string
  target: Target
  /** see `overdueSeconds` */
  overdueSeconds: number
  /** what the way to the service and back takes of the time that is promised; 0 where it is promised at the service */
  waySeconds: number
}

/** The targets of a service, in the order of the plan. */
export function targetsOf(plan: Plan, service: Service): PlacedTarget[] {
  return plan.classes.flatMap((c, classIndex) =>
    c.service === service.name
      ? c.targets.map((target) => ({
          classIndex,
          className: c.name,
          target,
          overdueSeconds: overdueSeconds(c),
          waySeconds: wayPromised(c, target),
        }))
      : [],
  )
}

/** Every target's reading off a complete run, in the order of {@link targetsOf}. */
export function readings(plan: Plan, service: Service, record: RunRecord): TargetReading[] {
  return targetsOf(plan, service).map((p) => {
    const selection = countedSelection(plan, p.classIndex)
    return unserved(record, p.target, selection) ?? readTarget(record, p, selection, plan.margin)
  })
}

/** Whether every reading keeps its promise with the head-room that the plan wants. */
export function allHold(plan: Plan, service: Service, read: readonly TargetReading[]): boolean {
  return targetsOf(plan, service).every(({ target }, i) => holds(read[i], target, plan.margin))
}
