import { fleetOf } from '../candidate/candidate.ts'
import { stageSeconds } from '../life/startRules.ts'
import { scalingContextOf, startRulesOf } from '../scaling/ofPlan.ts'
import { DAY_SECONDS, WEEK_SECONDS } from '../scaling/rules.ts'
import type { Plan, ScalingPolicy, Service } from '../plan/schema.ts'
import { clockText } from '../units/clockTime.ts'
import type { Alteration, PolicyPart } from '../run/alteredService.ts'
import type { RunSpec } from '../run/spec.ts'
import { ROUTINGS, waysOf, WEIGHTS_FROM } from '../plan/ways.ts'

/** Alterations of one kind, the mildest first. */
export type Ladder = readonly Alteration[]

/** What is to be made better, and what the run that is to be changed showed of it. */
export interface Trouble {
  fromSeconds: number
  untilSeconds: number
  /** the most replicas that were wanted in it */
  wanted: number
  /** mean time of a request in the service, over the whole run */
  meanSeconds: number
}

/** A minimum or a fixed number is tried up to so many times what was there. */
const MOST_TIMES = 8
const SEQUENCES_SHARE = [0.7, 0.5, 0.3]
const TARGET_SHARES = [0.8, 0.65, 0.5, 0.35, 0.2]
const KEPT_SECONDS = [900, 1800, 3600]
const QUICK = { intervalSeconds: 5, windowSeconds: 15 }
/** Windows of a schedule begin and end on these marks. */
const MARK_SECONDS = 300

/** Every single change that may help a run over its trouble. */
export function laddersFor(plan: Plan, spec: RunSpec, trouble: Trouble): Ladder[] {
  const { service, candidate } = spec
  const { policy } = candidate
  return [
    ...(policy ? policyLadders(plan, spec, policy, trouble) : []),
    fixedLadder(spec),
    ...(service.policies ?? []).filter((p) => p.name !== policy?.name).map((p): Ladder => [{ kind: 'other-policy', name: p.name }]),
    ...waysOf(WEIGHTS_FROM)
      .filter((from) => service.start && from !== service.start.weights.from)
      .map((from): Ladder => [{ kind: 'weights', from }]),
    ...(service.search?.sequences ?? [])
      .filter((s) => s !== candidate.sequences)
      .map((sequences): Ladder => [{ kind: 'sequences', sequences }]),
    ...waysOf(ROUTINGS)
      .filter((r) => r !== service.routing)
      .map((routing): Ladder => [{ kind: 'routing', routing }]),
  ].filter((ladder) => ladder.length > 0)
}

/** Whether a policy has something to change by that never sends it to sleep. */
export const changesAlone = ({ metrics, ahead, schedule }: ScalingPolicy) =>
  (metrics?.length ?? 0) > 0 || ahead !== undefined || (schedule?.length ?? 0) > 0

export function fixedLadder({ candidate, groups }: RunSpec): Ladder {
  const first = candidate.policy ? 1 : groups + 1
  return range(first, Math.min(candidate.maxGroups, Math.max(groups, 1) * MOST_TIMES)).map((n) => ({
    kind: 'fixed',
    groups: n,
    replicas: fleetOf(candidate, n).replicas,
  }))
}

function policyLadders(plan: Plan, { service, candidate }: RunSpec, policy: ScalingPolicy, trouble: Trouble): Ladder[] {
  const change = (part: PolicyPart, policies: readonly ScalingPolicy[]): Ladder =>
    policies.map((p) => ({ kind: 'policy', part, policy: p }))
  const start = stageSeconds(startRulesOf(service, candidate.model, candidate.variant, candidate.machine), true)
  const lead = start.machine + start.image + start.weights + start.load + start.warmup
  const most = Math.min(policy.max, Math.max(policy.min, 1) * MOST_TIMES)
  const { idle: _, ...awake } = policy
  const metrics = policy.metrics ?? []
  const withMetrics = (m: NonNullable<ScalingPolicy['metrics']>) => ({ ...policy, metrics: m })
  return [
    change(
      'min',
      changesAlone(awake) ? range(policy.min + 1, most).map((min) => ({ ...awake, min })) : [], // a fixed number says the same
    ),
    change(
      'schedule',
      range(Math.max(1, policy.min + 1), policy.max).map((min) => ({
        ...policy,
        schedule: [...(policy.schedule ?? []), ...windows(plan, service, trouble.fromSeconds - lead, trouble.untilSeconds, min)],
      })),
    ),
    trouble.wanted >= policy.max
      ? change(
          'max',
          range(policy.max + 1, policy.max * 2).map((max) => ({ ...policy, max })),
        )
      : [],
    change(
      'target',
      metrics.length === 0
        ? []
        : TARGET_SHARES.map((share) => withMetrics(metrics.map((m) => ({ ...m, target: Number((m.target * share).toPrecision(2)) })))),
    ),
    change(
      'metric',
      metrics.some((m) => m.metric === 'host-cpu')
        ? SEQUENCES_SHARE.map((share) =>
            withMetrics([{ metric: 'in-flight', target: Math.max(1, Math.round(candidate.sequences * share)) }]),
          )
        : [],
    ),
    change(
      'reading',
      metrics.length > 0 && (policy.intervalSeconds ?? 15) > QUICK.intervalSeconds
        ? [{ ...withMetrics(metrics.map((m) => ({ ...m, windowSeconds: QUICK.windowSeconds }))), intervalSeconds: QUICK.intervalSeconds }]
        : [],
    ),
    change('up', policy.up ? [{ ...policy, up: { stabilisationSeconds: 0, limits: [] } }] : []),
    change(
      'down',
      KEPT_SECONDS.filter((s) => s > (policy.down?.stabilisationSeconds ?? 300)).map((stabilisationSeconds) => ({
        ...policy,
        down: { ...policy.down, stabilisationSeconds },
      })),
    ),
    change('ahead', policy.ahead ? [] : aheadOf(policy, Math.ceil(lead), trouble.meanSeconds)),
    change(
      'wake',
      policy.idle ? [{ ...policy, wakeAt: [...(policy.wakeAt ?? []), clockOf(plan, service, trouble.fromSeconds - lead)] }] : [],
    ),
  ]
}

/** By Little's law a replica that should hold so many requests, each for its mean time, bears their quotient a second. */
function aheadOf(policy: ScalingPolicy, leadSeconds: number, meanSeconds: number): ScalingPolicy[] {
  const target = policy.metrics?.find((m) => m.metric === 'in-flight')?.target
  if (target === undefined || !(meanSeconds > 0)) return []
  return [1, 0.8, 0.6].map((share) => ({
    ...policy,
    ahead: { from: 'plan', leadSeconds, perReplica: Number(((share * target) / meanSeconds).toPrecision(3)) },
  }))
}

export type Window = NonNullable<ScalingPolicy['schedule']>[number]

/** Weekly windows over a time of the horizon: one, or every day when it is longer than a day. */
function windows(plan: Plan, service: Service, fromSeconds: number, untilSeconds: number, min: number): Window[] {
  const { weekStartSeconds } = scalingContextOf(plan, service)
  const from = Math.floor((weekStartSeconds + Math.max(0, fromSeconds)) / MARK_SECONDS) * MARK_SECONDS
  const until = Math.ceil((weekStartSeconds + untilSeconds) / MARK_SECONDS) * MARK_SECONDS
  if (until - from >= DAY_SECONDS) return [{ days: [1, 2, 3, 4, 5, 6, 7], from: '00:00', until: '24:00', min }]
  const day = Math.floor((((from % WEEK_SECONDS) + WEEK_SECONDS) % WEEK_SECONDS) / DAY_SECONDS) + 1
  return [{ days: [day], from: clockText(from), until: clockText(until), min }]
}

function clockOf(plan: Plan, service: Service, seconds: number): string {
  return clockText(Math.floor((scalingContextOf(plan, service).weekStartSeconds + Math.max(0, seconds)) / MARK_SECONDS) * MARK_SECONDS)
}

function range(from: number, to: number): number[] {
  return Array.from({ length: Math.max(0, to - from + 1) }, (_, i) => from + i)
}
