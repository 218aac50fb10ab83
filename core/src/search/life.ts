import { safeGroups } from '../cost/purchase.ts'
import { LivingFleet } from '../life/livingFleet.ts'
import type { Begin } from '../life/startRules.ts'
import type { Plan, Service } from '../plan/schema.ts'
import { makeController } from '../scaling/makeController.ts'
import { onCall } from '../scaling/onCall.ts'
import { lossRulesOf, nodeRulesOf, scalingContextOf, scalingRulesOf, startRulesOf } from '../scaling/ofPlan.ts'
import { fixedRules } from '../scaling/rules.ts'
import { fleetOf, type Candidate } from './candidate.ts'

/** What a fleet is made of: one group of machines after another with so many replicas each, for one variant, by a policy or a fixed number. */
export type FleetSpec = Pick<Candidate, 'service' | 'policy' | 'group' | 'model' | 'variant' | 'machine' | 'purchase' | 'prices' | 'paysByRun' | 'obtainableGroups' | 'sequences'>

/** What there is at the start of a plan's horizon. */
export const beginOf = ({ horizon }: Pick<Plan, 'horizon'>): Begin => horizon.begin ?? 'running'

/** When the replicas of a service without a life are ready: those that are there at the start are. */
export function readyAt(plan: Pick<Plan, 'horizon'>, { startupSeconds = 0 }: Service): number {
  return beginOf(plan) === 'running' ? 0 : startupSeconds
}

/** Whether the replicas of a service have a life beyond being ready at one time. */
export function hasLife({ paysByRun, service }: Pick<FleetSpec, 'paysByRun' | 'service'>): boolean {
  return paysByRun || service.start !== undefined
}

/** Whether what is paid depends on the run: replicas follow the load, or machines are lost or taken away and replaced. */
export function isPaidByRun({ losses }: Service, policy: FleetSpec['policy'], { kind }: FleetSpec['purchase']): boolean {
  return policy !== null || losses !== undefined || kind !== 'on-demand' && kind !== 'committed'
}

/** Whether the number of machines follows from the run. */
export function isElastic({ policy, purchase }: Pick<FleetSpec, 'policy' | 'purchase'>): boolean {
  return policy !== null || purchase.kind === 'per-request'
}

/**
 * The fleet of a candidate for one run.
 *
 * @param groups that there may be at one time; a fixed number has all of them
 * @param replicas of a fixed number, and the most that calls may bring: what the groups have room for if left out
 */
export function livingFleetOf(plan: Plan, candidate: FleetSpec, groups: number, repetition: number, { replicas }: { replicas: number } = fleetOf(candidate, groups)): LivingFleet {
  const { service, policy, group, model, variant, machine, purchase } = candidate
  // Who drains, or is about to be taken away, and who replaces it are there at the same time, on machines of their own.
  const most = candidate.paysByRun ? Math.max(groups, candidate.obtainableGroups) : groups
  const rules = policy ? scalingRulesOf(policy) : fixedRules(replicas)
  if (purchase.kind === 'per-request') return instancesOf(plan, candidate, replicas, repetition)
  return new LivingFleet(
    startRulesOf(service, model, variant, machine), nodeRulesOf(service, group.replicas, most, purchase.safeShare === 1 ? Infinity : safeGroups(purchase, groups)), lossRulesOf(service, machine),
    makeController(rules, scalingContextOf(plan, service)), plan.seed + repetition, beginOf(plan),
  )
}

const DEFAULT_KEPT_SECONDS = 300

/** Instances that calls bring: each starts up for a caller who finds no room, and goes when it was kept for long enough. */
function instancesOf(plan: Plan, { service, model, variant, machine, sequences }: FleetSpec, most: number, repetition: number): LivingFleet {
  const rules = { ...nodeRulesOf(service, 1, most), idleSeconds: 0, stops: false }
  return new LivingFleet(startRulesOf(service, model, variant, machine), rules, lossRulesOf(service), onCall(most, sequences, machine.keptSeconds ?? DEFAULT_KEPT_SECONDS), plan.seed + repetition)
}
