import { money, type Money } from '../cost/money.ts'
import { certainty } from '../measure/certainty.ts'
import type { RunSummary } from '../measure/runSummary.ts'
import type { RunRecord } from '../engine/record.ts'
import type { Configuration, Plan, Service } from '../plan/schema.ts'
import { fit, serviceLimits, type Misfit } from '../service/fit.ts'
import { givenProfile } from '../service/given.ts'
import type { Profile } from '../service/profile.ts'
import type { TargetAnswer } from './answer.ts'
import { groupOf } from '../search/candidate.ts'
import type { Load } from '../search/load.ts'
import { observersFor, tellRun } from './observedRun.ts'
import { targetAnswer } from './recommend.ts'
import { finishedOf, readings, targetsOf, tryOut } from '../search/trial.ts'

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
  /** every request of the first repetition */
  record: RunRecord
  /** "meets" of every target */
  meets: boolean
}

export type Configured = { ok: true; profile: Profile; perHour: number | null; machines: number | null } | { ok: false; misfit: Misfit }

/** The step costs and the price of a service's stated configuration. */
export function configured(plan: Plan, service: Service, configuration: Configuration): Configured {
  const { sequences, replicas, profile } = configuration
  const model = plan.models.find((m) => m.name === service.model)
  if (profile) {
    const limits = { ...serviceLimits(service, model), sequences, cacheTokens: Number.MAX_SAFE_INTEGER }
    const each = configuration.pricePerReplicaHour
    return { ok: true, profile: givenProfile(profile, limits), perHour: each === undefined ? null : each * replicas, machines: null }
  }
  const machine = plan.machines.find((m) => m.name === configuration.machine)
  const variant = model?.variants.find((v) => v.name === configuration.variant)
  if (!model || !machine || !variant) throw new Error('crossChecks let a configuration without machine or variant through')
  const devices = configuration.devices ?? 1
  const fitting = fit(plan, service, model, variant, machine, devices)
  if (!fitting.fits) return { ok: false, misfit: fitting.misfit }
  const group = groupOf(machine, devices)
  const machines = Math.ceil(replicas / group.replicas) * group.machines
  return { ok: true, profile: fitting.profile({ sequences }), perHour: machines * machine.pricePerHour, machines }
}

/** Simulates the stated configuration of a service over all repetitions. */
export function simulateConfigured(plan: Plan, service: Service, configuration: Configuration, load: Load, ready: Extract<Configured, { ok: true }>): SimulatedService {
  const { profile, perHour, machines } = ready
  const records: RunRecord[] = []
  const looking = observersFor(plan, service, load.of(service, 0).count)
  const values = Array.from({ length: load.repetitions(service) }, (_, repetition) => {
    const trial = tryOut({ plan, service, profile, replicas: configuration.replicas, requests: load.of(service, repetition), repetition, toTheEnd: true, ...(repetition === 0 && { observers: looking }) })
    if (trial.kind !== 'complete') throw new Error('a trial to the end did not get there')
    if (repetition === 0) records.push(trial.record)
    return readings(plan, service, trial.record).map((r) => r.value)
  })
  const [record] = records
  const targets = targetsOf(plan, service).map(({ className, classIndex, target }, i) =>
    targetAnswer({ className, classIndex, target, ...certainty(values.map((v) => v[i]), target, plan.margin) }),
  )
  return {
    service: service.name,
    configuration,
    profileSource: profile.source,
    machines,
    money: perHour === null ? null : money(perHour, plan.horizon.seconds, finishedOf(record, profile.kind === 'token')),
    targets,
    ...tellRun(plan, service, profile, configuration.replicas, { record, ...looking, life: null }),
    record,
    meets: targets.every((t) => t.certainty === 'meets'),
  }
}
