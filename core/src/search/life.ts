import { LivingFleet } from '../life/livingFleet.ts'
import type { LifeRecord } from '../life/startRules.ts'
import type { Plan, Service } from '../plan/schema.ts'
import { makeController } from '../scaling/makeController.ts'
import { lossRulesOf, nodeRulesOf, scalingContextOf, scalingRulesOf, startRulesOf } from '../scaling/ofPlan.ts'
import { fixedRules } from '../scaling/rules.ts'
import { fleetOf, type Candidate } from './candidate.ts'

/** What a fleet is made of: one group of machines after another with so many replicas each, for one variant, by a policy or a fixed number. */
export type FleetSpec = Pick<Candidate, 'policy' | 'group' | 'model' | 'variant' | 'machine'>

/** Whether the replicas of a service have a life beyond being ready at one time. */
export function hasLife(service: Service, candidate: Pick<FleetSpec, 'policy'>): boolean {
  return candidate.policy !== null || service.start !== undefined || service.losses !== undefined
}

/**
 * The fleet of a candidate for one run.
 *
 * @param groups that there may be at one time; a fixed number has all of them
 */
export function livingFleetOf(plan: Plan, service: Service, candidate: FleetSpec, groups: number, repetition: number): LivingFleet {
  const { policy, group, model, variant, machine } = candidate
  const rules = policy ? scalingRulesOf(policy) : fixedRules(fleetOf(candidate, groups).replicas)
  return new LivingFleet(
    startRulesOf(service, model, variant, machine), nodeRulesOf(service, group.replicas, groups), lossRulesOf(service),
    makeController(rules, scalingContextOf(plan, service)), plan.seed + repetition,
  )
}

/**
 * What the machines of a run cost, per hour of its horizon: each from its order to its end, rounded up to the offer's
 * billing step and to its minimum. Machines that are still there at the end are paid to the end, not rounded.
 */
export function paidPerHour({ machine, group }: Pick<FleetSpec, 'machine' | 'group'>, life: LifeRecord, horizonSeconds: number): number {
  const seconds = life.nodes.reduce((sum, { from, until }) => sum + billedSeconds(until - from, machine, until >= horizonSeconds), 0)
  return (seconds * machine.pricePerHour * group.machines) / horizonSeconds
}

export function billedSeconds(seconds: number, { billingStepSeconds, billingMinimumSeconds }: Candidate['machine'], goesOn: boolean): number {
  if (goesOn) return seconds
  const step = billingStepSeconds ?? 1
  return Math.max(billingMinimumSeconds ?? 0, Math.ceil(seconds / step - 1e-9) * step)
}
