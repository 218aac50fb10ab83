import { exp, ln } from '../arithmetic/sameBits.ts'
import { statedCandidate } from '../candidate/named.ts'
import { oneReplicaAt } from '../candidate/stated.ts'
import { profileOf } from '../candidate/candidate.ts'
import { allHold, readings } from '../measure/placedTargets.ts'
import { BadInput, shown } from '../plan/problem.ts'
import type { Assumptions, Plan, RequestClass, Target } from '../plan/schema.ts'
import { RandomStream } from '../random/stream.ts'
import { run } from '../run/run.ts'
import { Load } from '../search/load.ts'
import { sustainedRequestsPerSecond } from '../service/sustained.ts'
import type { OneAsked } from './asked.ts'
import { readyFor, type OneTimes } from './oneRun.ts'

/** What nobody knows of a server before it was tried, each between two ends; ratios are as likely everywhere between them. */
export const RANGES = {
  memoryEfficiency: { least: 0.35, most: 0.95, means: 'share of the bandwidth that a step reaches' },
  arithmeticEfficiency: { least: 0.15, most: 0.85, means: 'share of the arithmetic that a prompt reaches' },
  launchSeconds: { least: 0.0005, most: 0.01, means: 'launching a step' },
  waySeconds: { least: 0.001, most: 0.25, means: 'the way to the service and back' },
} as const satisfies Record<string, { least: number; most: number; means: string }>

export type WorldFigures = Record<keyof typeof RANGES, number>

/** One way in which it may be: step costs by its figures, and what they mean. */
export interface World {
  figures: WorldFigures
  /** as a caller sees it, with so many others in service; undefined where it is not served */
  seen: (others: number) => OneTimes | undefined
  /** requests a second that one replica bears within the promises of its class; simulated once it is asked for */
  capacity: () => number
}

/** Ways in which it may be, drawn from the ranges by a seed: the same for whatever was read. */
export function worldsOf(plan: Plan, asked: OneAsked, count: number, seed = 1): World[] {
  const random = new RandomStream(seed, 'stopwatch', asked.service)
  return Array.from({ length: count }, () => {
    const figures = Object.fromEntries(
      Object.entries(RANGES).map(([name, { least, most }]) => [name, least * exp(random.next() * ln(most / least))]),
    ) as WorldFigures // of every name of the ranges
    // A way that is known is not drawn.
    return worldOf(plan, asked, asked.way ? { ...figures, waySeconds: asked.way.there + asked.way.wholeBack } : figures)
  })
}

export function worldOf(plan: Plan, asked: OneAsked, figures: WorldFigures): World {
  const its = planWith(plan, figures)
  const seen = new Map<number, OneTimes | undefined>()
  let capacity: number | undefined
  return {
    figures,
    seen: (others) => {
      if (!seen.has(others)) seen.set(others, seenFrom(its, { ...asked, others, finds: 'warm' }, figures.waySeconds))
      return seen.get(others)
    },
    capacity: () => (capacity ??= capacityOf(its, asked, figures.waySeconds)),
  }
}

/** The plan with step costs derived by these figures, whatever its variants reach by themselves. */
function planWith(plan: Plan, { waySeconds: _, ...efficiencies }: WorldFigures): Plan {
  const assumptions: Assumptions = { ...plan.assumptions, ...efficiencies }
  const models = plan.models.map((m) => ({ ...m, variants: m.variants.map(({ efficiency: __, ...rest }) => rest) })) as Plan['models'] // of the same kinds
  return { ...plan, assumptions, models }
}

function seenFrom(plan: Plan, asked: OneAsked, waySeconds: number): OneTimes | undefined {
  const ready = readyFor(plan, asked)
  const times = ready.ok ? ready.times(asked.output) : undefined
  if (!times || 'outcome' in times) return undefined
  return { start: times.start, firstToken: times.firstToken + waySeconds, end: times.end + waySeconds }
}

/** Requests of which a capacity is judged, and how often the rate is halved in on. */
const JUDGED = 250
const HALVINGS = 7

/** The largest rate of Poisson arrivals that one replica bears: every promise on times of the service's classes holds, the way included. */
function capacityOf(plan: Plan, asked: OneAsked, waySeconds: number): number {
  const service = plan.services.find((s) => s.name === asked.service)
  const { sequences, input, output } = asked
  const candidate = service && statedCandidate(plan, service, oneReplicaAt(service, asked))
  if (!candidate?.fit.fits) return 0
  const profile = profileOf(candidate)
  if (profile.kind !== 'token') return 0
  const most = sustainedRequestsPerSecond(profile, sequences, { input, output })
  const targets = targetsAtService(plan, asked.service, waySeconds)
  const holds = (ratePerSecond: number) => {
    const its = judgedPlan(plan, asked, targets, ratePerSecond)
    const spec = { service: its.services[0], candidate: { ...candidate, service: its.services[0] }, groups: 1 }
    const { record } = run(its, spec, new Load(its).of(spec.service, 0), { toTheEnd: true })
    return allHold(its, spec.service, readings(its, spec.service, record))
  }
  let [low, high] = [0, most]
  for (let i = 0; i < HALVINGS; i++) {
    const middle = (low + high) / 2
    if (middle > 0 && holds(middle)) low = middle
    else high = middle
  }
  return (low + high) / 2
}

const isOfTime = (t: Target) => t.measure === 'ttft' || t.measure === 'tpot' || t.measure === 'latency' || t.measure === 'wait'

/** Promises to a caller, as far as the service can keep them: what the way takes is gone of all but the gaps between tokens. */
export function targetsAtService(plan: Plan, service: string, waySeconds: number): Target[] {
  const promised = plan.classes.filter((c) => c.service === service).flatMap((c) => c.targets.filter(isOfTime))
  return promised.map((t) =>
    'seconds' in t && t.at !== 'service' && t.measure !== 'tpot' && t.measure !== 'wait'
      ? { measure: t.measure, percentile: t.percentile, seconds: Math.max(1e-6, t.seconds - waySeconds) }
      : 'seconds' in t
        ? { measure: t.measure, percentile: t.percentile, seconds: t.seconds }
        : t,
  )
}

/** So many requests of one size at a rate, to a service of one replica. */
function judgedPlan(plan: Plan, asked: OneAsked, targets: Target[], ratePerSecond: number): Plan {
  const service = plan.services.find((s) => s.name === asked.service)
  if (!service)
    throw new BadInput('This request can not be laid out.', [{ path: 'service', found: shown(asked.service), rule: 'is not in the plan' }])
  const { policies: _, losses: __, start: ___, startupSeconds: ____, ...rest } = service
  const judged: RequestClass = {
    name: 'judged',
    service: service.name,
    arrivals: { kind: 'steady', ratePerSecond },
    input: { kind: 'fixed', value: asked.input },
    output: { kind: 'fixed', value: asked.output },
    targets,
  }
  const seconds = JUDGED / ratePerSecond
  return {
    ...plan,
    margin: 0,
    repetitions: 1,
    horizon: { start: plan.horizon.start, seconds: seconds * 1.2 + 60, warmupSeconds: Math.min(seconds * 0.1, 600) },
    classes: [judged],
    services: [rest],
  }
}
