import { remembered } from '../demand/remembered.ts'
import { countByClass, type Requests } from '../demand/requests.ts'
import { busiestOf } from './busiest.ts'
import { readyAt } from './life.ts'
import { MissWatch, type WatchedTarget } from '../engine/missWatch.ts'
import { Outcome } from '../engine/outcome.ts'
import type { Observers } from '../engine/observers.ts'
import type { RunRecord } from '../engine/record.ts'
import type { RunMemory } from '../engine/runMemory.ts'
import { readyTogether, type ClassRules, type ServiceRules } from '../engine/rules.ts'
import { simulate } from '../engine/simulate.ts'
import { countedSelection } from '../measure/summary.ts'
import { allowedMisses, holds, limitOf, overdueSeconds, readTarget, unserved, type TargetReading } from '../measure/targets.ts'
import { HOUR_SECONDS, hourOf, leastOfHour } from '../measure/readingHours.ts'
import type { LivingFleet } from '../life/livingFleet.ts'
import type { LifeRecord } from '../life/startRules.ts'
import type { Plan, RequestClass, Service, Target } from '../plan/schema.ts'
import type { Profile } from '../service/profile.ts'

/** One target of one class of a service. */
export interface PlacedTarget {
  classIndex: number
  className: string
  target: Target
  /** see `overdueSeconds` */
  overdueSeconds: number
}

/** The targets of a service, in the order of the plan. */
export function targetsOf(plan: Plan, service: Service): PlacedTarget[] {
  return plan.classes.flatMap((c, classIndex) =>
    c.service === service.name ? c.targets.map((target) => ({ classIndex, className: c.name, target, overdueSeconds: overdueSeconds(c) })) : [],
  )
}

/**
 * The engine's rules for a service with a profile and a number of replicas.
 *
 * @param repetition which independent draw of the load: what is drawn while the run goes is drawn anew with it
 * @param fleet for this run only, when replicas come and go
 */
export function rulesFor(plan: Plan, service: Service, profile: Profile, replicas: number, repetition = 0, fleet?: LivingFleet): ServiceRules {
  return {
    profile,
    routing: fleet?.onCall ? 'shared-queue' : service.routing, // a call goes to an instance that has room, or brings one
    queueLimit: service.limits?.queue ?? Infinity,
    seed: plan.seed + repetition,
    classes: plan.classes.map(classRules),
    readyAtSeconds: readyTogether(replicas, readyAt(plan, service)),
    horizonSeconds: plan.horizon.seconds,
    ...(fleet && { life: () => fleet }),
  }
}

const DEFAULT_GROWTH = 2

function classRules({ priority = 0, patienceSeconds = Infinity, cachedShare = 0, retries, rateLimit }: RequestClass): ClassRules {
  return {
    priority, patienceSeconds, cachedShare,
    ...(retries && { retries: { ...retries, growth: retries.growth ?? DEFAULT_GROWTH, jitter: retries.jitter ?? 0 } }),
    ...(rateLimit && { rateLimit }),
  }
}

/** What a trial said: it ran to the end, or a target was beyond repair before. */
export type Trial =
  | { kind: 'complete'; holds: boolean; record: RunRecord; life: LifeRecord | null; readings: TargetReading[] }
  | Broken

/** Stopped when one target could not be kept any more. */
interface Broken {
  kind: 'broken'
  holds: false
  placed: PlacedTarget
  misses: number
  /** of the whole horizon, or of the hour where the hour is read */
  considered: number
}

export interface TrialSetting {
  plan: Plan
  service: Service
  profile: Profile
  replicas: number
  requests: Requests
  /** which draw of the load the requests are; the first if left out */
  repetition?: number
  /** run to the end even when a target is already lost, to learn its figure */
  toTheEnd?: boolean
  /** who looks on beside the watch over the targets */
  observers?: Observers
  /** replicas that come and go, made for this run */
  fleet?: LivingFleet | undefined
  /** for who is done with the record before the next run */
  memory?: RunMemory
}

/** Simulates one configuration on one set of requests and reads its targets. */
export function tryOut(setting: TrialSetting): Trial {
  const { plan, service, requests } = setting
  const placed = targetsOf(plan, service)
  const watch = setting.toTheEnd ? undefined : watchOver(plan, placed, requests)
  const record = simulate(requests, rulesFor(plan, service, setting.profile, setting.replicas, setting.repetition, setting.fleet), { ...setting.observers, ...(watch && { watch }) }, setting.memory)
  if (record.stopped && watch) return brokenBy(plan, placed, requests, watch)
  const read = readings(plan, service, record)
  return { kind: 'complete', record, life: setting.fleet?.record ?? null, readings: read, holds: placed.every((p, i) => holds(read[i], p.target, plan.margin)) }
}

/**
 * Whether one configuration may hold as far as the busiest stretch tells: only its requests are run, on replicas that are
 * all idle and ready when it begins. Undefined when nothing there speaks against it.
 */
export function brokenInBusiest({ plan, service, profile, replicas, requests, repetition, memory }: Omit<TrialSetting, 'fleet' | 'observers'>): Broken | undefined {
  const busiest = busiestOf(plan, requests)
  if (!busiest) return undefined
  const placed = targetsOf(plan, service)
  const watch = watchOver(plan, placed, requests)
  const rules = { ...rulesFor(plan, { ...service, startupSeconds: 0 }, profile, replicas, repetition), horizonSeconds: busiest.untilSeconds }
  return simulate(busiest.requests, rules, { watch }, memory).stopped ? brokenBy(plan, placed, requests, watch) : undefined
}

/** Stops a run of requests, or of some of them, when so many missed as of all of them may not. */
function watchOver(plan: Plan, placed: readonly PlacedTarget[], requests: Requests): MissWatch {
  const counts = countedOf(plan, requests)
  return new MissWatch(placed.map((p) => watchedTarget(plan, p, counts, requests)), plan.classes.length, plan.horizon.warmupSeconds)
}

function brokenBy(plan: Plan, placed: readonly PlacedTarget[], requests: Requests, { broken, brokenPiece, misses }: MissWatch): Broken {
  const { classIndex, target } = placed[broken]
  const { byHour: ofHours, countable } = countedOf(plan, requests)
  return { kind: 'broken', holds: false, placed: placed[broken], misses: misses[broken][brokenPiece], considered: byHour(target) ? ofHours[classIndex][brokenPiece] : countable[classIndex] }
}

/** What is counted of requests before they are run. */
interface Counted {
  /** the most of each class that may count */
  countable: number[]
  /** counted arrivals of each class in each hour of the horizon */
  byHour: Float64Array[]
}

function countedOf(plan: Plan, requests: Requests): Counted {
  const { classes, horizon: { seconds, warmupSeconds } } = plan
  return remembered(requests, `counted, ${classes.length} classes, ${seconds} s from ${warmupSeconds} s`, () => ({ countable: countable(plan, requests), byHour: arrivalsOfHours(plan, requests) }))
}

/**
 * The most requests of each class that may count. Followers may come later than they would if answers took no time, and so
 * after the warm-up: all of a class that has some may.
 */
function countable(plan: Plan, requests: Requests): number[] {
  const counted = countByClass(requests, plan.classes.length, plan.horizon.warmupSeconds)
  if (!requests.chain) return counted
  const all = countByClass(requests, plan.classes.length)
  return counted.map((n, c) => (mayFollow(plan.classes[c]) ? all[c] : n))
}

const mayFollow = (c: RequestClass) => c.turns !== undefined || c.arrivals.kind === 'closed-loop'

/** Every target's reading off a complete run, in the order of {@link targetsOf}. */
export function readings(plan: Plan, service: Service, record: RunRecord): TargetReading[] {
  return targetsOf(plan, service).map((p) => {
    const selection = countedSelection(plan, p.classIndex)
    return unserved(record, p.target, selection) ?? readTarget(record, p, selection, plan.margin)
  })
}

function watchedTarget(plan: Plan, { target, classIndex }: PlacedTarget, { countable, byHour: arrivals }: Counted, requests: Requests): WatchedTarget {
  const measure = target.measure === 'throughput' ? 'lost' : target.measure
  const watched = { classIndex, measure, seconds: limitOf(target, plan.margin).limit }
  if (!byHour(target)) return { ...watched, pieceSeconds: Infinity, allowedMisses: [allowedMisses(target, countable[classIndex]) ?? Infinity] }
  // When followers come depends on the run: nobody knows beforehand how many there are in an hour.
  const known = requests.chain === undefined
  const allowed = remembered(requests, `allowed of class ${classIndex}, ${arrivals[classIndex].length} hours, ${plan.horizon.warmupSeconds}, ${JSON.stringify(target)}`, () =>
    arrivals[classIndex].map((n) => (known && n >= leastOfHour(target.percentile) ? (allowedMisses(target, n) ?? Infinity) : Infinity)))
  return { ...watched, pieceSeconds: HOUR_SECONDS, allowedMisses: allowed }
}

function byHour(target: Target): target is Extract<Target, { percentile: number }> {
  return target.measure !== 'lost' && target.measure !== 'throughput' && target.over === 'worst-hour'
}

/** How many counted requests of each class arrive in each hour of the horizon. */
function arrivalsOfHours({ classes, horizon }: Plan, requests: Requests): Float64Array[] {
  const out = classes.map(() => new Float64Array(hourOf(horizon.seconds) + 2))
  const { at, classIndex, count } = requests
  for (let i = 0; i < count; i++) if (at[i] >= horizon.warmupSeconds) out[classIndex[i]][hourOf(at[i])]++
  return out
}

/** Finished requests of a run and their tokens, warm-up included: what the money bought. */
export function finishedOf(record: RunRecord, hasTokens: boolean): { requests: number; tokens: number } {
  let requests = 0
  let tokens = 0
  for (let i = 0; i < record.requests.count; i++) {
    if (record.outcome[i] !== Outcome.finished) continue
    requests++
    if (hasTokens) tokens += record.requests.input[i] + record.requests.output[i]
  }
  return { requests, tokens }
}
