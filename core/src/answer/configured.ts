import { money, type Money } from '../cost/money.ts'
import { happenings, type Happening } from '../explain/lifeWords.ts'
import type { LifeRecord } from '../life/startRules.ts'
import { LateArrivals } from '../measure/lateArrivals.ts'
import { certainty } from '../measure/certainty.ts'
import type { RunSummary } from '../measure/runSummary.ts'
import type { RunRecord } from '../engine/record.ts'
import type { Configuration, Plan, Service } from '../plan/schema.ts'
import { fit, serviceLimits, type Misfit } from '../service/fit.ts'
import { givenProfile } from '../service/given.ts'
import type { Profile } from '../service/profile.ts'
import type { TargetAnswer } from './answer.ts'
import { obtainable } from '../plan/machineSchema.ts'
import { groupOf } from '../search/candidate.ts'
import { bestCommitted, runPerHours, steadyPerHour } from '../cost/bill.ts'
import { groupPrices, purchase } from '../cost/purchase.ts'
import { hasLife, isPaidByRun, livingFleetOf, type FleetSpec } from '../search/life.ts'
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
  /** what one should know before one believes the figures */
  remarks: string[]
  /** what happened to the fleet of the first repetition, in words; empty for one that is there all the time */
  happenings: Happening[]
  /** every request of the first repetition */
  record: RunRecord
  /** "meets" of every target */
  meets: boolean
}

export type Configured = { ok: true; profile: Profile; perHour: number | null; machines: number | null; replicas: number; /** how replicas come and go; null for one that is there all the time */ fleet: (FleetSpec & { groups: number }) | null } | { ok: false; misfit: Misfit }

/** The step costs and the price of a service's stated configuration. */
export function configured(plan: Plan, service: Service, configuration: Configuration): Configured {
  const { sequences, replicas, profile } = configuration
  const model = plan.models.find((m) => m.name === service.model)
  if (profile) {
    const limits = { ...serviceLimits(service, model), sequences, cacheTokens: Number.MAX_SAFE_INTEGER }
    const each = configuration.pricePerReplicaHour
    return { ok: true, profile: givenProfile(profile, limits), perHour: each === undefined ? null : each * replicas, machines: null, replicas, fleet: null }
  }
  const machine = plan.machines.find((m) => m.name === configuration.machine)
  const variant = model?.variants.find((v) => v.name === configuration.variant)
  if (!model || !machine || !variant) throw new Error('crossChecks let a configuration without machine or variant through')
  const devices = configuration.devices ?? 1
  const fitting = fit(plan, service, model, variant, machine, devices)
  if (!fitting.fits) return { ok: false, misfit: fitting.misfit }
  const group = groupOf(machine, devices, service.host)
  const policy = service.policies?.find((p) => p.name === configuration.policy) ?? null
  const groups = Math.ceil((policy?.max ?? replicas) / group.replicas)
  const machines = groups * group.machines
  const prices = groupPrices(service, model, variant, machine, { machines: group.machines, devices, sequences })
  const paid = purchase(configuration.purchase ?? 'on-demand', configuration.safeShare)
  const spec: FleetSpec = { service, sequences, policy, group, model, variant, machine, prices, purchase: paid, paysByRun: isPaidByRun(service, policy, paid), maxGroups: Math.max(groups, Math.floor(obtainable(machine) / group.machines)) }
  return {
    ok: true, profile: fitting.profile({ sequences }), perHour: steadyPerHour(spec, groups), machines, replicas: policy ? groups * group.replicas : replicas,
    fleet: hasLife(spec) ? { ...spec, groups } : null,
  }
}

/** Simulates the stated configuration of a service over all repetitions. */
export function simulateConfigured(plan: Plan, service: Service, configuration: Configuration, load: Load, ready: Extract<Configured, { ok: true }>): SimulatedService {
  const { profile, machines, replicas } = ready
  let perHour = ready.perHour
  let life: LifeRecord | null = null
  const records: RunRecord[] = []
  /** where what is paid depends on the run: with 0, 1, 2 … groups committed to */
  const paid: number[][] = []
  const looking = observersFor(plan, service, load.of(service, 0).count)
  const values = Array.from({ length: load.repetitions(service) }, (_, repetition) => {
    const fleet = ready.fleet ? livingFleetOf(plan, ready.fleet, ready.fleet.groups, repetition) : undefined
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
  if (ready.fleet && paid.length > 0) perHour = bestCommitted(paid, ready.fleet.prices).perHour
  const targets = targetsOf(plan, service).map(({ className, classIndex, target }, i) =>
    targetAnswer({ className, classIndex, target, ...certainty(values.map((v) => v[i]), target, plan.margin) }),
  )
  const late = new LateArrivals(record, targetsOf(plan, service))
  return {
    service: service.name,
    configuration,
    profileSource: profile.source,
    machines,
    money: perHour === null ? null : money(perHour, plan.horizon.seconds, finishedOf(record, profile.kind === 'token')),
    targets,
    ...tellRun(plan, service, profile, replicas, { record, ...looking, life }),
    happenings: life ? happenings(life, { startIso: plan.horizon.start, limitedBy: 'number of machines', late: (from, until) => late.between(from, until) }, 0, plan.horizon.seconds) : [],
    record,
    meets: targets.every((t) => t.certainty === 'meets'),
  }
}
