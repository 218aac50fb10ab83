import { bestCommitted, committedOfSteady, isCommittable, steadyPerHour } from '../cost/bill.ts'
import { ON_DEMAND } from '../cost/purchase.ts'
import { certainty } from '../measure/certainty.ts'
import type { Plan, Service } from '../plan/schema.ts'
import { costPerHour, fleetOf, type Candidate } from '../candidate/candidate.ts'
import type { Found, TargetOutcome } from './found.ts'
import type { Option } from './option.ts'
import type { Missed, TrialResult } from './order.ts'
import { targetsOf } from '../measure/placedTargets.ts'

/** What all repetitions together say of every target. */
export function outcomesOf(plan: Plan, service: Service, held: readonly TrialResult[]): TargetOutcome[] {
  return targetsOf(plan, service).map(({ className, classIndex, target }, i) => ({
    className,
    classIndex,
    target,
    ...certainty(
      held.map((r) => r.values?.[i] ?? undefined),
      target,
      plan.margin,
    ),
  }))
}

/** The first target that they leave in doubt, with the end of its interval on the wrong side. */
export function doubtOf(targets: readonly TargetOutcome[]): Missed | undefined {
  const doubtful = targets.find((t) => t.certainty !== 'meets')
  if (!doubtful) return undefined
  const { className, target, interval } = doubtful
  const value = target.measure === 'throughput' ? interval?.low : interval?.high
  return { className, target, likely: true, misses: 0, considered: 0, ...(value === undefined ? {} : { value }) }
}

/** What is known of an option of which every draw was run to the end. */
export function foundOf(
  plan: Plan,
  { candidate, profile, key, holdsAt: groups, held }: Pick<Option, 'candidate' | 'profile' | 'key' | 'holdsAt' | 'held'>,
  targets: TargetOutcome[],
): Found {
  const steady = () => (isCommittable(candidate) ? Array.from({ length: 2 * groups }, (_, i) => (i % 2) * plan.horizon.seconds) : [])
  return {
    candidate,
    profile,
    key,
    groups,
    ...fleetOf(candidate, groups),
    ...paidFor(candidate, groups, held),
    committable: held.map((r) => (candidate.paysByRun ? r.committable : steady())),
    targets,
    finished: { requests: mean(held, (r) => r.finished.requests), tokens: mean(held, (r) => r.finished.tokens) },
  }
}

/**
 * A fleet that is there all the time costs what it costs; elsewhere the repetitions say it together, with one number that is committed to.
 */
function paidFor(
  candidate: Candidate,
  groups: number,
  results: readonly TrialResult[],
): Pick<Found, 'perHour' | 'perHourByDraw' | 'meanMachines' | 'mostMachines' | 'committedGroups' | 'uncommittedPerHour'> {
  if (candidate.paysByRun)
    return {
      ...bestCommitted(
        results.map((r) => r.perHourByCommitted),
        candidate.prices,
      ),
      uncommittedPerHour: mean(results, (r) => r.perHourByCommitted[0]),
      meanMachines: mean(results, (r) => r.meanMachines),
      mostMachines: Math.max(...results.map((r) => r.mostMachines)),
    }
  const perHour = costPerHour(candidate, groups)
  return {
    perHour,
    perHourByDraw: results.map(() => perHour),
    uncommittedPerHour: steadyPerHour({ ...candidate, purchase: ON_DEMAND }, groups),
    meanMachines: fleetOf(candidate, groups).machines,
    mostMachines: fleetOf(candidate, groups).machines,
    committedGroups: committedOfSteady(candidate, groups),
  }
}

const mean = (results: readonly TrialResult[], value: (r: TrialResult) => number) =>
  results.reduce((sum, r) => sum + value(r), 0) / results.length
