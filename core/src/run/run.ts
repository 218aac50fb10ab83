import type { Requests } from '../demand/requests.ts'
import type { Observers } from '../engine/observers.ts'
import type { RunRecord } from '../engine/record.ts'
import type { RunMemory } from '../engine/runMemory.ts'
import { simulate } from '../engine/simulate.ts'
import type { ServiceRules } from '../engine/rules.ts'
import type { LivingFleet } from '../life/livingFleet.ts'
import type { LifeRecord } from '../life/startRules.ts'
import { waySeconds } from '../plan/way.ts'
import type { Plan } from '../plan/schema.ts'
import type { Profile } from '../service/profile.ts'
import { busiestOf } from './busiest.ts'
import { fleetOfRun } from './fleet.ts'
import { rulesFor } from './rules.ts'
import { partsOf, type RunSpec } from './spec.ts'
import { TargetWatch, type Broken } from './watch.ts'

/** A run that went to the end of the horizon. */
export interface Complete {
  kind: 'complete'
  record: RunRecord
  /** how its fleet came and went; null for one that is there all the time */
  life: LifeRecord | null
  /** the step costs that it ran with */
  profile: Profile
}

export interface RunOptions {
  /** which draw of the load the requests are: what is drawn while the run goes is drawn anew with it; the first if left out */
  repetition?: number
  /** who looks on beside the watch over the targets */
  observers?: Observers
  /** for who is done with the record before the next run */
  memory?: RunMemory
  /** on to the end even when a target is lost before, to learn its figure */
  toTheEnd?: boolean
}

/** What the engine needs of a configuration, with its fleet for this run only. */
export function rulesOfRun(
  plan: Plan,
  spec: RunSpec,
  requests: Requests,
  repetition: number,
): { rules: ServiceRules; fleet: LivingFleet | undefined; profile: Profile } {
  const { profile, replicas } = partsOf(spec)
  const fleet = fleetOfRun(plan, spec, requests, repetition)
  return { rules: rulesFor(plan, spec.service, profile, replicas, repetition, fleet, spec.candidate.machine.sold), fleet, profile }
}

/** Simulates a configuration on one set of requests. Here alone rules, step costs and fleet are put together. */
export function run(plan: Plan, spec: RunSpec, requests: Requests, options: RunOptions & { toTheEnd: true }): Complete
export function run(plan: Plan, spec: RunSpec, requests: Requests, options?: RunOptions): Complete | Broken
export function run(
  plan: Plan,
  spec: RunSpec,
  requests: Requests,
  { repetition = 0, observers, memory, toTheEnd = false }: RunOptions = {},
): Complete | Broken {
  const { rules, fleet, profile } = rulesOfRun(plan, spec, requests, repetition)
  const watching = toTheEnd ? undefined : new TargetWatch(plan, spec.service, requests)
  const record = simulate(requests, rules, { ...observers, ...(watching && { watch: watching.watch }) }, memory)
  if (plan.classes.some((c) => c.way)) record.ways = plan.classes.map(waySeconds)
  return record.stopped && watching ? watching.said() : { kind: 'complete', record, life: fleet?.record ?? null, profile }
}

/**
 * Whether a configuration may hold as far as the busiest stretch tells: only its requests are run, on replicas that are
 * all idle and ready when it begins. Undefined when nothing there speaks against it.
 */
export function brokenInBusiest(
  plan: Plan,
  spec: RunSpec,
  requests: Requests,
  { repetition = 0, memory }: Pick<RunOptions, 'repetition' | 'memory'> = {},
): Broken | undefined {
  const busiest = busiestOf(plan, requests)
  if (!busiest) return undefined
  const { profile, replicas } = partsOf(spec)
  const watching = new TargetWatch(plan, spec.service, requests)
  const rules = {
    ...rulesFor(plan, { ...spec.service, startupSeconds: 0 }, profile, replicas, repetition, undefined, spec.candidate.machine.sold),
    horizonSeconds: busiest.untilSeconds,
  }
  return simulate(busiest.requests, rules, { watch: watching.watch }, memory).stopped ? watching.said() : undefined
}
