import { isCommittable, mostAtOnce, runPerHours } from '../cost/bill.ts'
import type { Requests } from '../demand/requests.ts'
import { holds, type TargetReading } from '../measure/targets.ts'
import { RunMemory } from '../engine/runMemory.ts'
import type { Plan, Service } from '../plan/schema.ts'
import { CandidateList } from '../candidate/enumerate.ts'
import { costPerHour, fleetOf } from '../candidate/candidate.ts'
import type { CandidateName } from '../candidate/named.ts'
import { optionName } from '../candidate/optionName.ts'
import { specOf } from '../run/specOf.ts'
import { worldOf, type World } from '../world/worldOf.ts'
import type { Missed, TrialOrder, TrialResult } from './order.ts'
import { brokenInBusiest, run, type Complete } from '../run/run.ts'
import type { RunSpec } from '../run/spec.ts'
import type { Broken } from '../run/watch.ts'
import { finishedOf } from '../measure/finished.ts'
import { hasTokens } from '../service/profile.ts'
import { allHold, readings, targetsOf } from '../measure/placedTargets.ts'

type Paid = Pick<TrialResult, 'paidPerHour' | 'perHourByCommitted' | 'committable' | 'meanMachines' | 'mostMachines'>

const NOTHING_PAID = {
  values: null,
  finished: { requests: 0, tokens: 0 },
  paidPerHour: 0,
  perHourByCommitted: [],
  committable: [],
  meanMachines: 0,
  mostMachines: 0,
} satisfies Partial<TrialResult>

/** Carries out the orders of a search for one plan. Every thread has its own; all of them give the same results. */
export class TrialRunner {
  private readonly plan: Plan
  private readonly candidates = new Map<string, CandidateList>()
  private readonly worlds = new Map<number, World>()
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
    const spec: RunSpec = { service: candidate.service, candidate, groups: order.groups }
    if (order.world !== undefined) return this.runInWorld(order.world, spec, order, requests)
    if (order.busiest) return this.runBusiest(spec, order, requests)
    const ran = run(this.plan, spec, requests, { repetition: order.repetition, memory: this.memory, toTheEnd: order.toTheEnd })
    return { ...trialResult(this.plan, candidate.service, ran), ...this.paid(spec, ran) }
  }

  /** What is not spoken against holds as far as one knows; nothing is known of what it costs. */
  private runBusiest(spec: RunSpec, { repetition }: TrialOrder, requests: Requests): TrialResult {
    const broken = brokenInBusiest(this.plan, spec, requests, { repetition, memory: this.memory })
    return { holds: broken === undefined, missed: broken ? { ...missedOf(broken), inBusiest: true } : null, ...NOTHING_PAID }
  }

  /** The same option where the plan is otherwise; what it costs there nobody asks. */
  private runInWorld(number: number, { service, candidate, groups }: RunSpec, { repetition }: TrialOrder, requests: Requests): TrialResult {
    const sized = { service: service.name, option: optionName(candidate), machines: fleetOf(candidate, groups).machines }
    return { ...heldInWorld({ ...this.worldAt(number), repetition }, sized, requests, this.memory), ...NOTHING_PAID }
  }

  private worldAt(number: number): World {
    const world = this.worlds.get(number) ?? worldOf(this.plan, number)
    this.worlds.set(number, world)
    return world
  }

  /** A fleet that is there all the time is paid all the time; elsewhere the machines that were there are. */
  private paid({ candidate, groups }: RunSpec, ran: Complete | Broken): Paid {
    const fixed = {
      paidPerHour: costPerHour(candidate, groups),
      perHourByCommitted: [],
      committable: [],
      meanMachines: fleetOf(candidate, groups).machines,
      mostMachines: fleetOf(candidate, groups).machines,
    }
    if (!candidate.paysByRun || ran.kind === 'broken') return fixed
    const { seconds } = this.plan.horizon
    if (!ran.life)
      return {
        ...fixed,
        paidPerHour: Math.min(...runPerHours(candidate, ran.record, null, seconds)),
        perHourByCommitted: runPerHours(candidate, ran.record, null, seconds),
      }
    const { nodes } = ran.life
    const there = nodes.reduce((sum, n) => sum + n.until - n.from, 0)
    const byCommitted = runPerHours(candidate, ran.record, ran.life, seconds)
    const committable = isCommittable(candidate) ? nodes.flatMap((n) => (n.spot ? [] : [n.from, n.until])) : []
    return {
      paidPerHour: Math.min(...byCommitted),
      perHourByCommitted: byCommitted,
      committable,
      meanMachines: (there * candidate.group.machines) / seconds,
      mostMachines: mostAtOnce(nodes) * candidate.group.machines,
    }
  }

  private candidatesOf(service: Service): CandidateList {
    const known = this.candidates.get(service.name)
    if (known) return known
    const made = new CandidateList(this.plan, service)
    this.candidates.set(service.name, made)
    return made
  }
}

/** Whether a configuration keeps its promises in a world, with the draw of the load that it has there; not where it can not be had. */
export function heldInWorld(
  { plan, repetition }: Pick<World, 'plan' | 'repetition'>,
  { service, option, machines }: { service: string; option: CandidateName; machines: number },
  requests: Requests,
  memory?: RunMemory,
): Pick<TrialResult, 'holds' | 'missed'> {
  const spec = specOf(plan, service, option, machines)
  if (!spec) return { holds: false, missed: null }
  const { holds, missed } = trialResult(plan, spec.service, run(plan, spec, requests, { repetition, ...(memory && { memory }) }))
  return { holds, missed }
}

/** @throws Error when the order does not belong to the plan */
export function serviceOf(plan: Plan, order: Pick<TrialOrder, 'service'>): Service {
  const service = plan.services.find((s) => s.name === order.service)
  if (!service) throw new Error(`no service "${order.service}" in this plan`)
  return service
}

/** What a run said of the targets, as the search takes it. */
export function trialResult(plan: Plan, service: Service, ran: Complete | Broken): Omit<TrialResult, keyof Paid> {
  if (ran.kind === 'broken') return { holds: false, missed: missedOf(ran), values: null, finished: { requests: 0, tokens: 0 } }
  const read = readings(plan, service, ran.record)
  const holdsAll = allHold(plan, service, read)
  return {
    holds: holdsAll,
    missed: holdsAll ? null : worst(plan, service, read),
    values: read.map((r) => r.value ?? null),
    finished: finishedOf(ran.record, hasTokens(ran.profile)),
  }
}

function missedOf({ placed: { className, target }, misses, considered }: Broken): Missed {
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
