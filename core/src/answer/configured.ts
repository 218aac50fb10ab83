import { money, type Money } from '../cost/money.ts'
import { happenings, type Happening } from '../explain/lifeWords.ts'
import { policyRemarks } from '../explain/policyWords.ts'
import { LateArrivals } from '../measure/lateArrivals.ts'
import { certainty } from '../measure/certainty.ts'
import type { RunSummary } from '../measure/runSummary.ts'
import type { RunRecord } from '../engine/record.ts'
import type { Configuration, Plan, Service } from '../plan/schema.ts'
import { rejectionSentence } from '../explain/rejectionSentence.ts'
import { shown, type Problem } from '../plan/problem.ts'
import type { Misfit } from '../service/fit.ts'
import { hasTokens, type Profile } from '../service/profile.ts'
import type { TargetAnswer } from './answer.ts'
import { relianceOf } from './reliance.ts'
import { fleetOf } from '../candidate/candidate.ts'
import { isPriced } from '../candidate/stated.ts'
import { statedCandidate } from '../candidate/named.ts'
import { refusalOf, type Refusal } from '../search/refusal.ts'
import { statedGroups } from '../search/statedSearch.ts'
import { bestCommitted, committedOfSteady, runPerHours, steadyPerHour } from '../cost/bill.ts'
import { guardOf, type GuardReport } from './guard.ts'
import { isStopped } from './guardWords.ts'
import type { Seen } from './details.ts'
import type { Load } from '../search/load.ts'
import { observersFor, tellRun } from './observedRun.ts'
import { targetAnswer } from './serviceAnswer.ts'
import { finishedOf } from '../measure/finished.ts'
import { readings, targetsOf } from '../measure/placedTargets.ts'
import { run, type Complete } from '../run/run.ts'
import { partsOf, type RunSpec } from '../run/spec.ts'

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
  /** what its guard does; left out where it has none */
  guard?: GuardReport
  /** what details are told of */
  seen: Seen
  /** "meets" of every target */
  meets: boolean
}

/** A stated configuration that can be had and run. */
export interface Configured {
  ok: true
  spec: RunSpec
  perHour: number | null
  /** null for one that states its own step costs: it has none */
  machines: number | null
}

/** What a service's stated configuration is, and its price where that does not depend on the run. */
export function configured(plan: Plan, service: Service, configuration: Configuration): Configured | { ok: false; refusal: Refusal } {
  const candidate = statedCandidate(plan, service, configuration)
  if (!candidate) throw new Error('crossChecks let a configuration without machine or variant through')
  const { profile, replicas } = configuration
  const groups = statedGroups(candidate, replicas)
  const refusal = refusalOf(candidate, groups)
  if (refusal) return { ok: false, refusal }
  return {
    ok: true,
    spec: { service: candidate.service, candidate, groups },
    perHour: isPriced(candidate) ? steadyPerHour(candidate, groups) : null,
    machines: profile ? null : fleetOf(candidate, groups).machines,
  }
}

/** Simulates the stated configuration of a service over all repetitions. */
export function simulateConfigured(
  plan: Plan,
  service: Service,
  configuration: Configuration,
  load: Load,
  ready: Configured,
): SimulatedService {
  const { spec, machines } = ready
  const { candidate } = spec
  const { profile } = partsOf(spec)
  const placed = targetsOf(plan, service)
  const { first, looking, values, paid, finished } = drawn(plan, spec, load)
  const { record, life } = first
  const bought = paid.length > 0 ? bestCommitted(paid, candidate.prices) : undefined
  const perHour = bought?.perHour ?? ready.perHour
  const committedGroups = bought?.committedGroups ?? (!candidate.paysByRun ? committedOfSteady(candidate, spec.groups) : 0)
  const targets = placed.map(({ className, classIndex, target }, i) =>
    targetAnswer({
      className,
      classIndex,
      target,
      ...certainty(
        values.map((v) => v[i]),
        target,
        plan.margin,
      ),
    }),
  )
  const observed = { record, ...looking, life }
  const guard = guardOf(plan, spec, load)
  const { run: summary, remarks } = tellRun(plan, spec, observed)
  const late = new LateArrivals(record, placed, plan.horizon.warmupSeconds)
  return {
    service: service.name,
    configuration,
    profileSource: profile.source,
    machines,
    money: perHour === null ? null : money(perHour, plan.horizon.seconds, finished),
    targets,
    run: summary,
    reliance: relianceOf(candidate, profile, load.of(service, 0)),
    remarks: [...policyRemarks(service, candidate), ...remarks],
    happenings: life
      ? happenings(
          life,
          { startIso: plan.horizon.start, limitedBy: candidate.limitedBy, late: (from, until) => late.between(from, until) },
          0,
          plan.horizon.seconds,
        )
      : [],
    record,
    seen: { candidate, groups: spec.groups, observed, perHour: perHour ?? 0, committedGroups },
    ...(guard && { guard }),
    meets: targets.every((t) => t.certainty === 'meets') && !isStopped(guard ?? undefined),
  }
}

/** What every draw of the load says; the first with everybody looking on. */
interface Drawn {
  first: Complete
  looking: ReturnType<typeof observersFor>
  /** of every target, by draw */
  values: (number | undefined)[][]
  /** means over the draws */
  finished: { requests: number; tokens: number }
  /** by draw, where what is paid depends on the run: with 0, 1, 2 … groups committed to */
  paid: number[][]
}

function drawn(plan: Plan, spec: RunSpec, load: Load): Drawn {
  const { service, candidate } = spec
  const looking = observersFor(plan, service, load.of(service, 0).count)
  const paid: number[][] = []
  const runOf = (repetition: number) => {
    const ran = run(plan, spec, load.of(service, repetition), {
      repetition,
      toTheEnd: true,
      ...(repetition === 0 && { observers: looking }),
    })
    if (candidate.paysByRun) paid.push(runPerHours(candidate, ran.record, ran.life, plan.horizon.seconds))
    return ran
  }
  const read = ({ record, profile }: Complete) => ({
    values: readings(plan, service, record).map((r) => r.value),
    finished: finishedOf(record, hasTokens(profile)),
  })
  const first = runOf(0)
  const draws = [read(first), ...Array.from({ length: load.repetitions(service) - 1 }, (_, i) => read(runOf(i + 1)))]
  const mean = (of: (d: (typeof draws)[number]) => number) => draws.reduce((sum, d) => sum + of(d), 0) / draws.length
  return {
    first,
    looking,
    values: draws.map((d) => d.values),
    finished: { requests: mean((d) => d.finished.requests), tokens: mean((d) => d.finished.tokens) },
    paid,
  }
}

/** A refusal as a problem of the plan: the field that asks for it, what stands there, and the figure that decides. */
export function refusalProblem(plan: Plan, index: number, configuration: Configuration, refusal: Refusal): Problem {
  const { field, found } = refusedField(configuration, refusal)
  return {
    path: `services[${index}].configuration.${field}`,
    found: shown(found),
    rule: `can not be had or run: ${rejectionSentence(refusal, plan)}`,
  }
}

function refusedField(
  { machine, variant, purchase = 'on-demand', replicas, policy, sequences, devices = 1 }: Configuration,
  refusal: Refusal,
): { field: keyof Configuration; found: unknown } {
  if (refusal.kind === 'not-sold') return { field: 'purchase', found: purchase }
  if (refusal.kind === 'too-many') return policy === undefined ? { field: 'replicas', found: replicas } : { field: 'policy', found: policy }
  if (refusal.kind === 'no-stock') return { field: 'machine', found: machine }
  const { misfit } = refusal
  if (misfit.kind === 'sold-as') return { field: 'variant', found: variant }
  if (misfit.kind === 'sequences') return { field: 'sequences', found: sequences }
  const ofDevices: readonly Misfit['kind'][] = ['split', 'groups', 'devices', 'no-link', 'no-host-link', 'heads', 'layers']
  return ofDevices.includes(misfit.kind) ? { field: 'devices', found: devices } : { field: 'machine', found: machine }
}
