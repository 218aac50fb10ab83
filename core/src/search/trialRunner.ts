import { holds } from '../measure/targets.ts'
import type { Plan, Service } from '../plan/schema.ts'
import type { Profile } from '../service/profile.ts'
import { enumerate, type Candidate } from './candidate.ts'
import type { Load } from './load.ts'
import type { Missed, TrialOrder, TrialResult } from './order.ts'
import { finishedOf, readings, targetsOf, tryOut, type Trial } from './trial.ts'

/** Carries out the orders of a search for one plan. Every thread has its own; all of them give the same results. */
export class TrialRunner {
  private readonly plan: Plan
  private readonly load: Load
  private readonly candidates = new Map<string, Candidate[]>()

  constructor(plan: Plan, load: Load) {
    this.plan = plan
    this.load = load
  }

  /** @throws Error when the order does not belong to the plan */
  run(order: TrialOrder): TrialResult {
    const service = this.plan.services.find((s) => s.name === order.service)
    if (!service) throw new Error(`no service "${order.service}" in this plan`)
    const candidate = this.candidatesOf(service)[order.candidate]
    const profile = profileOf(candidate)
    const requests = order.loadFactor === 1 ? this.load.of(service, order.repetition) : this.load.multiplied(service, order.loadFactor)
    const trial = tryOut({
      plan: this.plan, service, profile, requests, toTheEnd: order.toTheEnd, replicas: order.machines * candidate.perMachine,
    })
    return trialResult(this.plan, service, trial, order.toTheEnd, profile.kind === 'token')
  }

  private candidatesOf(service: Service): Candidate[] {
    const known = this.candidates.get(service.name)
    if (known) return known
    const made = enumerate(this.plan, service)
    this.candidates.set(service.name, made)
    return made
  }
}

/** Step costs of a candidate that fits. @throws Error for one that does not */
export function profileOf(candidate: Candidate): Profile {
  if (!candidate.fit.fits) throw new Error(`${candidate.machine.name} does not fit: it can not be tried`)
  return candidate.fit.profile({ sequences: candidate.sequences })
}

/** @param figures whether the targets' values are wanted; sorting for them costs time */
export function trialResult(plan: Plan, service: Service, trial: Trial, figures: boolean, hasTokens: boolean): TrialResult {
  if (trial.kind === 'broken') {
    const { placed, misses, considered } = trial
    const missed = { className: placed.className, target: placed.target, misses, considered }
    return { holds: false, missed, values: null, finished: { requests: 0, tokens: 0 } }
  }
  const finished = finishedOf(trial.record, hasTokens)
  if (!figures && trial.holds) return { holds: true, missed: null, values: null, finished }
  const read = readings(plan, service, trial.record)
  return { holds: trial.holds, missed: trial.holds ? null : worst(plan, service, read), values: read.map((r) => r.value ?? null), finished }
}

function worst(plan: Plan, service: Service, read: ReturnType<typeof readings>): Missed {
  const placed = targetsOf(plan, service)
  const share = (i: number) => read[i].misses / Math.max(1, read[i].considered)
  const order = placed.map((_, i) => i).filter((i) => !holds(read[i], placed[i].target, plan.margin))
  const i = order.sort((a, b) => share(b) - share(a))[0]
  const { value, misses, considered } = read[i]
  return { className: placed[i].className, target: placed[i].target, misses, considered, ...(value === undefined ? {} : { value }) }
}
