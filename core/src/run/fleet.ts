import type { Candidate } from '../candidate/candidate.ts'
import { isByCall, isByTokens, safeGroups } from '../cost/purchase.ts'
import type { Requests } from '../demand/requests.ts'
import { LivingFleet } from '../life/livingFleet.ts'
import type { Plan } from '../plan/schema.ts'
import { makeController } from '../scaling/makeController.ts'
import { onCall } from '../scaling/onCall.ts'
import { lossRulesOf, nodeRulesOf, scalingContextOf, scalingRulesOf, startRulesOf } from '../scaling/ofPlan.ts'
import { wakeTimes } from '../scaling/wakeCalls.ts'
import { fixedRules } from '../scaling/rules.ts'
import { beginOf } from './readyAt.ts'
import { partsOf, type RunSpec } from './spec.ts'

/** Whether the replicas of a service have a life beyond being ready at one time. */
export function hasLife({ paysByRun, purchase, service }: Pick<Candidate, 'paysByRun' | 'purchase' | 'service'>): boolean {
  return !isByTokens(purchase) && (paysByRun || service.start !== undefined)
}

/** The fleet of what is run, for this run only; undefined where it is there all the time. */
export function fleetOfRun(plan: Plan, spec: RunSpec, requests: Requests, repetition: number): LivingFleet | undefined {
  return hasLife(spec.candidate) ? livingFleetOf(plan, spec, requests, repetition) : undefined
}

/** Of a fixed number all groups are there; of others that many may be at one time. */
function livingFleetOf(plan: Plan, spec: RunSpec, requests: Requests, repetition: number): LivingFleet {
  const { candidate, groups } = spec
  const { replicas } = partsOf(spec)
  const { service, policy, group, model, variant, machine, purchase } = candidate
  // Who drains, or is about to be taken away, and who replaces it are there at the same time, on machines of their own.
  const most = candidate.paysByRun ? Math.max(groups, candidate.obtainableGroups) : groups
  const visits = policy?.wake && wakeTimes(policy.wake, requests, plan.seed + repetition)
  const rules = policy ? scalingRulesOf(policy, visits) : fixedRules(replicas)
  if (isByCall(purchase)) return instancesOf(plan, candidate, replicas, repetition)
  return new LivingFleet(
    startRulesOf(service, model, variant, machine),
    nodeRulesOf(service, group.replicas, most, purchase.safeShare === 1 ? Infinity : safeGroups(purchase, groups)),
    lossRulesOf(service, machine),
    makeController(rules, scalingContextOf(plan, service)),
    plan.seed + repetition,
    beginOf(plan),
  )
}

const DEFAULT_KEPT_SECONDS = 300

/** Instances that calls bring: each starts up for a caller who finds no room, and goes when it was kept for long enough. */
function instancesOf(
  plan: Plan,
  { service, model, variant, machine, sequences }: Candidate,
  most: number,
  repetition: number,
): LivingFleet {
  const rules = { ...nodeRulesOf(service, 1, most), idleSeconds: 0, stops: false, unloads: false }
  return new LivingFleet(
    startRulesOf(service, model, variant, machine),
    rules,
    lossRulesOf(service),
    onCall(most, sequences, machine.keptSeconds ?? DEFAULT_KEPT_SECONDS),
    plan.seed + repetition,
  )
}
