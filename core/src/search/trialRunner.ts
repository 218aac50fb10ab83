import { isCommittable, mostAtOnce, runPerHours } from '../cost/bill.ts'
import type { Requests } from '../demand/requests.ts'
import { holds, type TargetReading } from '../measure/targets.ts'
import { RunMemory } from '../engine/runMemory.ts'
import type { Plan, Service } from '../plan/schema.ts'
import type { Profile } from '../service/profile.ts'
import { CandidateList, costPerHour, fleetOf, type Candidate } from './candidate.ts'
import { hasLife, livingFleetOf } from './life.ts'
import type { Missed, TrialOrder, TrialResult } from './order.ts'
import { brokenInBusiest, finishedOf, targetsOf, tryOut, type Trial } from './trial.ts'

type Paid = Pick<TrialResult, 'paidPerHour' | 'perHourByCommitted' | 'committable' | 'meanMachines' | 'mostMachines'>

/** Carries out the orders of a search for one plan. Every thread has its own; all of them give the same results. */
export class TrialRunner {
  private readonly plan: Plan
  private readonly candidates = new Map<string, CandidateList>()
  private readonly memory = new RunMemory()

  constructor(plan: Plan) {
    this.plan = plan
  }

  /**
   * @param requests those of the order (see `Load.forOrder`)
   * @throws Error when the order does not belong to the plan
   */
  run(order: TrialOrder, requests: Requests): TrialResult {
    const candidate = this.candidatesOf(serviceOf(this.plan, order)).at(order.candidate)
    const profile = profileOf(candidate)
    const { service } = candidate
    if (order.busiest) return this.runBusiest(candidate, profile, order, requests)
    const fleet = hasLife(candidate) ? livingFleetOf(this.plan, candidate, order.groups, order.repetition) : undefined
    const trial = tryOut({
      memory: this.memory, fleet,
      plan: this.plan, service, profile, requests, toTheEnd: order.toTheEnd, repetition: order.repetition, replicas: fleetOf(candidate, order.groups).replicas,
    })
    return { ...trialResult(this.plan, service, trial, profile.kind === 'token'), ...this.paid(candidate, order, trial) }
  }

  /** What is not spoken against holds as far as one knows; nothing is known of what it costs. */
  private runBusiest(candidate: Candidate, profile: Profile, { groups, repetition }: TrialOrder, requests: Requests): TrialResult {
    const trial = brokenInBusiest({ plan: this.plan, service: candidate.service, profile, requests, repetition, memory: this.memory, replicas: fleetOf(candidate, groups).replicas })
    const nothing = { values: null, finished: { requests: 0, tokens: 0 }, paidPerHour: 0, perHourByCommitted: [], committable: [], meanMachines: 0, mostMachines: 0 }
    return { holds: trial === undefined, missed: trial ? { ...missedOf(trial), inBusiest: true } : null, ...nothing }
  }

  /** A fleet that is there all the time is paid all the time; elsewhere the machines that were there are. */
  private paid(candidate: Candidate, { groups }: TrialOrder, trial: Trial): Paid {
    const fixed = { paidPerHour: costPerHour(candidate, groups), perHourByCommitted: [], committable: [], meanMachines: fleetOf(candidate, groups).machines, mostMachines: fleetOf(candidate, groups).machines }
    if (!candidate.paysByRun || trial.kind === 'broken' || !trial.life) return fixed
    const { seconds } = this.plan.horizon
    const there = trial.life.nodes.reduce((sum, n) => sum + n.until - n.from, 0)
    const byCommitted = runPerHours(candidate, trial.record, trial.life, seconds)
    const committable = isCommittable(candidate) ? trial.life.nodes.flatMap((n) => (n.spot ? [] : [n.from, n.until])) : []
    return { paidPerHour: Math.min(...byCommitted), perHourByCommitted: byCommitted, committable, meanMachines: (there * candidate.group.machines) / seconds, mostMachines: mostAtOnce(trial.life.nodes) * candidate.group.machines }
  }

  private candidatesOf(service: Service): CandidateList {
    const known = this.candidates.get(service.name)
    if (known) return known
    const made = new CandidateList(this.plan, service)
    this.candidates.set(service.name, made)
    return made
  }
}

/** @throws Error when the order does not belong to the plan */
export function serviceOf(plan: Plan, order: TrialOrder): Service {
  const service = plan.services.find((s) => s.name === order.service)
  if (!service) throw new Error(`no service "${order.service}" in this plan`)
  return service
}

/** Step costs of a candidate that fits. @throws Error for one that does not */
export function profileOf(candidate: Candidate): Profile {
  if (!candidate.fit.fits) throw new Error(`${candidate.machine.name} does not fit: it can not be tried`)
  return candidate.fit.profile({ sequences: candidate.sequences })
}

export function trialResult(plan: Plan, service: Service, trial: Trial, hasTokens: boolean): Omit<TrialResult, keyof Paid> {
  if (trial.kind === 'broken') {
    return { holds: false, missed: missedOf(trial), values: null, finished: { requests: 0, tokens: 0 } }
  }
  const finished = finishedOf(trial.record, hasTokens)
  const { readings: read } = trial
  return { holds: trial.holds, missed: trial.holds ? null : worst(plan, service, read), values: read.map((r) => r.value ?? null), finished }
}

function missedOf({ placed: { className, target }, misses, considered }: Extract<Trial, { kind: 'broken' }>): Missed {
  return { className, target, misses, considered }
}

function worst(plan: Plan, service: Service, read: readonly TargetReading[]): Missed {
  const placed = targetsOf(plan, service)
  const share = (i: number) => read[i].misses / Math.max(1, read[i].considered)
  const order = placed.map((_, i) => i).filter((i) => !holds(read[i], placed[i].target, plan.margin))
  const i = order.sort((a, b) => share(b) - share(a))[0]
  const { value, misses, considered } = read[i]
  return { className: placed[i].className, target: placed[i].target, misses, considered, ...(value === undefined ? {} : { value }) }
}
