import { money, type Money } from '../cost/money.ts'
import { happenings, type Happening } from '../explain/lifeWords.ts'
import { policyRemarks } from '../explain/policyWords.ts'
import type { LifeRecord } from '../life/startRules.ts'
import { LateArrivals } from '../measure/lateArrivals.ts'
import { certainty } from '../measure/certainty.ts'
import type { RunSummary } from '../measure/runSummary.ts'
import type { RunRecord } from '../engine/record.ts'
import type { Configuration, Plan, Service } from '../plan/schema.ts'
import { rejectionSentence } from '../explain/rejectionSentence.ts'
import { shown, type Problem } from '../plan/problem.ts'
import { serviceLimits, type Misfit } from '../service/fit.ts'
import { givenProfile } from '../service/given.ts'
import type { Profile } from '../service/profile.ts'
import type { TargetAnswer } from './answer.ts'
import { relianceOf } from './reliance.ts'
import { fleetOf, statedCandidate, type Candidate } from '../search/candidate.ts'
import { refusalOf, type Refusal } from '../search/refusal.ts'
import { profileOf } from '../search/trialRunner.ts'
import { bestCommitted, committedOfSteady, runPerHours, steadyPerHour } from '../cost/bill.ts'
import type { Seen } from './details.ts'
import { hasLife, livingFleetOf, type FleetSpec } from '../search/life.ts'
import type { Load } from '../search/load.ts'
import { observersFor, tellRun } from './observedRun.ts'
import { targetAnswer } from './recommend.ts'
import { finishedOf, targetsOf, tryOut } from '../search/trial.ts'

/** A stated configuration, simulated as it stands. */
export interface SimulatedService {
  service: string
  configuration: Configuration
  profileSource: Profile['source']
  machines: number | null
  /** null when the configuration states no price */
  money: Money | null
  targets: TargetAnswer[]
  run: RunSummary
  /** what its step costs rely on: sentences without a full stop */
  reliance: string[]
  /** what one should know before one believes the figures */
  remarks: string[]
  /** what happened to the fleet of the first repetition, in words; empty for one that is there all the time */
  happenings: Happening[]
  /** every request of the first repetition */
  record: RunRecord
  /** what details are told of; null for a configuration with its own profile */
  seen: Seen | null
  /** "meets" of every target */
  meets: boolean
}

/** A stated configuration that can be had and run. */
export interface Configured {
  ok: true
  profile: Profile
  perHour: number | null
  machines: number | null
  replicas: number
  /** null for one that states its own profile: it has no machines */
  candidate: Candidate | null
  /** how replicas come and go; null for one that is there all the time */
  fleet: (FleetSpec & { groups: number }) | null
}

/** The step costs and the price of a service's stated configuration. */
export function configured(plan: Plan, service: Service, configuration: Configuration): Configured | { ok: false; refusal: Refusal } {
  const { sequences, replicas, profile } = configuration
  const model = plan.models.find((m) => m.name === service.model)
  if (profile) {
    const limits = { ...serviceLimits(service, model), sequences, cacheTokens: Number.MAX_SAFE_INTEGER }
    const each = configuration.pricePerReplicaHour
    return { ok: true, profile: givenProfile(profile, limits), perHour: each === undefined ? null : each * replicas, machines: null, replicas, candidate: null, fleet: null }
  }
  const candidate = statedCandidate(plan, service, configuration)
  if (!candidate) throw new Error('crossChecks let a configuration without machine or variant through')
  const { policy, group } = candidate
  // A policy may have all that can be had; what it asks for beyond that finds no room.
  const groups = policy ? candidate.maxGroups : Math.ceil(replicas / group.replicas)
  const refusal = refusalOf(candidate, groups)
  if (refusal) return { ok: false, refusal }
  const { replicas: placed, machines } = fleetOf(candidate, groups)
  return {
    ok: true, profile: profileOf(candidate), perHour: steadyPerHour(candidate, groups), machines, replicas: policy ? placed : replicas, candidate,
    fleet: hasLife(candidate) ? { ...candidate, groups } : null,
  }
}

/** Simulates the stated configuration of a service over all repetitions. */
export function simulateConfigured(plan: Plan, service: Service, configuration: Configuration, load: Load, ready: Configured): SimulatedService {
  const { profile, machines, replicas } = ready
  let perHour = ready.perHour
  let life: LifeRecord | null = null
  const records: RunRecord[] = []
  /** where what is paid depends on the run: with 0, 1, 2 … groups committed to */
  const paid: number[][] = []
  const looking = observersFor(plan, service, load.of(service, 0).count)
  const values = Array.from({ length: load.repetitions(service) }, (_, repetition) => {
    const fleet = ready.fleet ? livingFleetOf(plan, ready.fleet, ready.fleet.groups, repetition, { replicas }) : undefined
    const trial = tryOut({ plan, service, profile, replicas, fleet, requests: load.of(service, repetition), repetition, toTheEnd: true, ...(repetition === 0 && { observers: looking }) })
    if (trial.kind !== 'complete') throw new Error('a trial to the end did not get there')
    if (ready.fleet && ready.fleet.paysByRun && trial.life) paid.push(runPerHours(ready.fleet, trial.record, trial.life, plan.horizon.seconds))
    if (repetition === 0) {
      records.push(trial.record)
      life = trial.life
    }
    return trial.readings.map((r) => r.value)
  })
  const [record] = records
  const best = ready.fleet && paid.length > 0 ? bestCommitted(paid, ready.fleet.prices) : undefined
  if (best) perHour = best.perHour
  const committedGroups = best?.committedGroups ?? (ready.candidate && !ready.candidate.paysByRun ? committedOfSteady(ready.candidate, (machines ?? 0) / ready.candidate.group.machines) : 0)
  const targets = targetsOf(plan, service).map(({ className, classIndex, target }, i) =>
    targetAnswer({ className, classIndex, target, ...certainty(values.map((v) => v[i]), target, plan.margin) }),
  )
  const { run, remarks } = tellRun(plan, service, profile, replicas, { record, ...looking, life })
  const late = new LateArrivals(record, targetsOf(plan, service), plan.horizon.warmupSeconds)
  return {
    service: service.name,
    configuration,
    profileSource: profile.source,
    machines,
    money: perHour === null ? null : money(perHour, plan.horizon.seconds, finishedOf(record, profile.kind === 'token')),
    targets,
    run,
    reliance: relianceOf(ready.candidate, profile, load.of(service, 0)),
    remarks: [...(ready.candidate ? policyRemarks(service, ready.candidate) : []), ...remarks],
    happenings: life ? happenings(life, { startIso: plan.horizon.start, limitedBy: ready.candidate?.limitedBy ?? 'number of machines', late: (from, until) => late.between(from, until) }, 0, plan.horizon.seconds) : [],
    record,
    seen: ready.candidate && { candidate: ready.candidate, groups: ready.fleet?.groups ?? (machines ?? 0) / ready.candidate.group.machines, observed: { record, ...looking, life }, perHour: perHour ?? 0, committedGroups },
    meets: targets.every((t) => t.certainty === 'meets'),
  }
}

/** A refusal as a problem of the plan: the field that asks for it, what stands there, and the figure that decides. */
export function refusalProblem(plan: Plan, index: number, configuration: Configuration, refusal: Refusal): Problem {
  const { field, found } = refusedField(configuration, refusal)
  return { path: `services[${index}].configuration.${field}`, found: shown(found), rule: `can not be had or run: ${rejectionSentence(refusal, plan)}` }
}

function refusedField({ machine, purchase = 'on-demand', replicas, policy, sequences, devices = 1 }: Configuration, refusal: Refusal): { field: keyof Configuration; found: unknown } {
  if (refusal.kind === 'not-sold') return { field: 'purchase', found: purchase }
  if (refusal.kind === 'too-many') return policy === undefined ? { field: 'replicas', found: replicas } : { field: 'policy', found: policy }
  if (refusal.kind === 'no-stock') return { field: 'machine', found: machine }
  const { misfit } = refusal
  if (misfit.kind === 'sequences') return { field: 'sequences', found: sequences }
  const ofDevices: readonly Misfit['kind'][] = ['split', 'groups', 'devices', 'no-link', 'no-host-link', 'heads', 'layers']
  return ofDevices.includes(misfit.kind) ? { field: 'devices', found: devices } : { field: 'machine', found: machine }
}
