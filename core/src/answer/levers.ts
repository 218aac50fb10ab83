import { shortFleetWords } from '../explain/fleetWords.ts'
import type { Size } from '../plan/loadSchema.ts'
import { isByTokens } from '../cost/purchase.ts'
import type { Plan, RequestClass, ScalingPolicy, Service, Sold } from '../plan/schema.ts'
import { altered } from '../run/alteration.ts'
import type { RunSpec } from '../run/spec.ts'
import { specOf } from '../run/specOf.ts'
import { costPerHour, fleetOf, type Candidate } from '../candidate/candidate.ts'
import type { Load } from '../search/load.ts'
import { measured, type LeverEffect } from './strained.ts'
import { DEFAULT_SPOT_MEAN_SECONDS } from '../scaling/ofPlan.ts'
import { bare, threeDigits } from '../units/number.ts'
import type { OptionName } from '../candidate/optionName.ts'
import { withRate } from '../plan/arrivalKinds.ts'
import { ROUTINGS, waysOf } from '../plan/ways.ts'

/** A configuration by its name and size. */
export interface Sized {
  option: OptionName
  machines: number
}

export interface LeverReport {
  before: LeverEffect
  settled: number
  of: number
  /** the largest effect on the tightest promise first */
  effects: LeverEffect[]
}

interface Lever {
  words: string
  /** the plan with one input moved; the service keeps its name */
  plan: (plan: Plan) => Plan
  loadFactor?: number
  /** moves the configuration rather than the plan */
  spec?: (spec: RunSpec) => RunSpec | undefined
}

/** Gaps of requests that come in clumps, beside those of pure chance at 1. */
const UNEVEN_VARIATION = 2

/** Machines that a fixed number is tried with more, before one gives up. */
const MORE_AT_MOST = 3

/**
 * Moves one input after the other by a plausible step and simulates the chosen configuration anew on the first draw:
 * what it does to the tightest promise and to the cost of the same machines. Where it does not hold any more, the same with
 * more machines and the next best are tried, the cheapest first; all options are not searched anew. Yields after each run.
 *
 * @param others the next best
 */
export function* levers(
  plan: Plan,
  serviceName: string,
  chosen: Sized,
  others: readonly Sized[],
  load: Load,
  loadOf: (plan: Plan) => Load,
): Generator<LeverReport, LeverReport> {
  const spec = inPlan(plan, serviceName, chosen)
  if (!spec) throw new Error('only a configuration that fits has levers')
  const list = leversOf(plan, spec.service, spec.candidate)
  const report: LeverReport = { before: measured('as it is', plan, spec, load, 1), settled: 0, of: list.length, effects: [] }
  yield { ...report }
  for (const lever of list) {
    const next = lever.plan(plan)
    const there = next === plan ? spec : inPlan(next, serviceName, chosen)
    const moved = there && lever.spec ? lever.spec(there) : there
    const itsLoad = next === plan ? load : loadOf(next)
    const effect: LeverEffect = moved
      ? measured(lever.words, next, moved, itsLoad, lever.loadFactor ?? 1)
      : { words: lever.words, strain: null, tightest: null, perHour: null }
    if (!lever.spec && (effect.strain === null || effect.strain > 1)) {
      effect.instead = null
      for (const rival of rivalsIn(next, serviceName, chosen, others)) {
        if (leastOf(rival) >= (effect.instead?.perHour ?? Infinity)) continue
        yield { ...report }
        const { strain, perHour } = measured('', next, rival, itsLoad, lever.loadFactor ?? 1)
        if (strain !== null && strain <= 1 && perHour !== null && perHour < (effect.instead?.perHour ?? Infinity))
          effect.instead = { perHour, words: specWords(rival) }
      }
    }
    report.effects = [...report.effects, effect].sort((a, b) => weight(report.before, b) - weight(report.before, a))
    report.settled++
    yield { ...report }
  }
  return report
}

/** How much an effect moves the tightest promise. */
function weight({ strain: before }: LeverEffect, { strain }: LeverEffect): number {
  return strain === null || before === null ? Infinity : Math.abs(strain - before)
}

/** The same with more machines, and the next best as they are and with more; by what they cost at the least. */
function rivalsIn(plan: Plan, serviceName: string, chosen: Sized, others: readonly Sized[]): RunSpec[] {
  const specs = [chosen, ...others].flatMap((sized, i): RunSpec[] => {
    const spec = inPlan(plan, serviceName, sized)
    if (!spec) return []
    if (spec.candidate.elastic) return i === 0 ? [] : [spec]
    return Array.from({ length: MORE_AT_MOST + 1 }, (_, more) => ({ ...spec, groups: spec.groups + more })).filter(
      (s) => s.groups <= s.candidate.maxGroups && (i > 0 || s.groups > spec.groups),
    )
  })
  return specs.sort((a, b) => leastOf(a) - leastOf(b))
}

/** What a configuration costs at the least, an hour; what comes and goes says it by its run. */
const leastOf = ({ candidate, groups }: RunSpec): number => (candidate.elastic ? 0 : costPerHour(candidate, groups))

function specWords({ candidate, groups }: RunSpec): string {
  return shortFleetWords({
    machine: candidate.machine.name,
    machines: fleetOf(candidate, groups).machines,
    upTo: candidate.elastic,
    purchase: candidate.purchase,
  })
}

const inPlan = (plan: Plan, serviceName: string, { option, machines }: Sized) => specOf(plan, serviceName, option, machines)

const same = (plan: Plan) => plan

function leversOf(plan: Plan, service: Service, candidate: Candidate): Lever[] {
  const mine = (c: RequestClass) => c.service === service.name
  const sized =
    (field: 'input' | 'output' | 'work', factor: number) =>
    (p: Plan): Plan => ({ ...p, classes: p.classes.map((c) => (mine(c) && c[field] ? { ...c, [field]: scaled(c[field], factor) } : c)) })
  const has = (field: 'input' | 'output' | 'work') => plan.classes.some((c) => mine(c) && c[field] !== undefined && c[field].kind !== 'log')
  const assumed =
    (patch: (a: Plan['assumptions']) => Partial<Plan['assumptions']>) =>
    (p: Plan): Plan => ({ ...p, assumptions: { ...p.assumptions, ...patch(p.assumptions) } })
  const derived = candidate.fit.fits && candidate.fit.source === 'derived'
  return [
    { words: '10 % more load', plan: same, loadFactor: 1.1 },
    { words: '10 % less load', plan: same, loadFactor: 0.9 },
    ...(has('input') ? [{ words: 'prompts 20 % longer', plan: sized('input', 1.2) }] : []),
    ...(has('output') ? [{ words: 'answers 20 % longer', plan: sized('output', 1.2) }] : []),
    ...(has('work') ? [{ words: '20 % more work a request', plan: sized('work', 1.2) }] : []),
    ...unevenLevers(plan, mine),
    ...(derived
      ? [
          { words: 'memory read 10 % slower than assumed', plan: assumed((a) => ({ memoryEfficiency: a.memoryEfficiency * 0.9 })) },
          { words: 'arithmetic 10 % slower than assumed', plan: assumed((a) => ({ arithmeticEfficiency: a.arithmeticEfficiency * 0.9 })) },
        ]
      : []),
    ...(isByTokens(candidate.purchase) ? soldLevers(candidate) : [...startLevers(service), ...specLevers(plan, service, candidate)]),
  ]
}

/** What the answer owes to how unevenly requests come: bursts of the plan are taken away, or what comes by pure chance comes in clumps. */
function unevenLevers(plan: Plan, mine: (c: RequestClass) => boolean): Lever[] {
  const rated = plan.classes.filter((c) => mine(c) && withRate(c.arrivals))
  if (rated.length === 0) return []
  const bursty = rated.some((c) => withRate(c.arrivals)?.bursts)
  const uneven = (p: Plan): Plan => ({
    ...p,
    classes: p.classes.map((c): RequestClass => {
      const arrivals = mine(c) ? withRate(c.arrivals) : undefined
      if (!arrivals) return c
      const { bursts: _, ...even } = arrivals
      return { ...c, arrivals: bursty ? even : { ...even, bursts: { kind: 'gamma', variation: UNEVEN_VARIATION } } }
    }),
  })
  const words = bursty
    ? 'requests by pure chance, without their bursts'
    : `gaps between requests that vary ${UNEVEN_VARIATION} times as much as by chance`
  return [{ words, plan: uneven }]
}

/** What is sold by tokens has nothing that could be set; that it is slower than its seller says is the doubt. */
function soldLevers({ machine }: Candidate): Lever[] {
  const slower = (times: (s: Sold) => Partial<Sold>) => (p: Plan) => ({
    ...p,
    soldByTokens: (p.soldByTokens ?? []).map((s) => (s.name === machine.name ? { ...s, ...times(s) } : s)),
  })
  const by = ({ seconds, p95Seconds }: Sold['firstToken'], factor: number) => ({
    seconds: seconds * factor,
    ...(p95Seconds !== undefined && { p95Seconds: p95Seconds * factor }),
  })
  return [
    { words: 'first tokens 20 % later than stated', plan: slower((s) => ({ firstToken: by(s.firstToken, 1.2) })) },
    { words: 'further tokens 20 % slower than stated', plan: slower((s) => ({ eachToken: by(s.eachToken, 1.2) })) },
  ]
}

function startLevers({ name, start }: Service): Lever[] {
  if (!start) return []
  const changed =
    (patch: Partial<typeof start>) =>
    (p: Plan): Plan => ({
      ...p,
      services: p.services.map((s) => (s.name === name && s.start ? { ...s, start: { ...s.start, ...patch } } : s)),
    })
  const { machineP95Seconds: p95, machineSeconds = 0 } = start
  return [
    ...(machineSeconds > 0
      ? [
          {
            words: 'machines that come twice as late',
            plan: changed({ machineSeconds: machineSeconds * 2, ...(p95 !== undefined && { machineP95Seconds: p95 * 2 }) }),
          },
        ]
      : []),
    {
      words: 'weights read at half the rate',
      plan: changed({ weights: { ...start.weights, bytesPerSecond: start.weights.bytesPerSecond / 2 } }),
    },
  ]
}

function specLevers(plan: Plan, service: Service, candidate: Candidate): Lever[] {
  const by = (words: string, alteration: Parameters<typeof altered>[2]): Lever => ({
    words,
    plan: same,
    spec: (s) => altered(plan, s, alteration),
  })
  const { policy, sequences } = candidate
  const list = [...(service.search?.sequences ?? [])].sort((a, b) => a - b)
  const next = [list.filter((s) => s < sequences).at(-1), list.find((s) => s > sequences)].filter((s) => s !== undefined)
  const retarget = (p: ScalingPolicy, share: number): ScalingPolicy => ({
    ...p,
    metrics: (p.metrics ?? []).map((m) => ({ ...m, target: Number((m.target * share).toPrecision(2)) })),
  })
  const targets = (p: ScalingPolicy) => (p.metrics ?? []).map((m) => bare(threeDigits(m.target))).join(' and ')
  return [
    ...next.map((s) => by(`${s} side by side`, { kind: 'sequences', sequences: s })),
    ...waysOf(ROUTINGS)
      .filter((r) => ROUTINGS[r].isLever && r !== service.routing)
      .map((routing) => by(ROUTINGS[routing].words, { kind: 'routing', routing })),
    ...(policy?.metrics?.length
      ? [0.8, 1.25].map((share) =>
          by(`a target of ${targets(retarget(policy, share))} for the policy`, {
            kind: 'policy',
            part: 'target',
            policy: retarget(policy, share),
          }),
        )
      : []),
    ...(policy && !policy.idle && policy.min < policy.max
      ? [by(`at least ${policy.min + 1} copies`, { kind: 'policy', part: 'min', policy: { ...policy, min: policy.min + 1 } })]
      : []),
    ...(candidate.purchase.safeShare < 1
      ? [
          {
            words: 'machines taken away twice as often',
            plan: (p: Plan): Plan => ({
              ...p,
              machines: p.machines.map((m) =>
                m.name === candidate.machine.name ? { ...m, spotMeanSeconds: (m.spotMeanSeconds ?? DEFAULT_SPOT_MEAN_SECONDS) / 2 } : m,
              ),
            }),
          },
        ]
      : []),
    ...(policy
      ? []
      : [1, -1].map((d): Lever => ({
          words: d > 0 ? 'one machine more' : 'one machine less',
          plan: same,
          spec: (s) => (s.groups + d >= 1 && s.groups + d <= s.candidate.maxGroups ? { ...s, groups: s.groups + d } : undefined),
        }))),
  ]
}

function scaled(size: Size, factor: number): Size {
  switch (size.kind) {
    case 'fixed':
      return { ...size, value: Math.max(1, Math.round(size.value * factor)) }
    case 'lognormal':
      return {
        ...size,
        median: size.median * factor,
        p95: size.p95 * factor,
        ...(size.max !== undefined && { max: Math.round(size.max * factor) }),
      }
    case 'exponential':
      return { ...size, mean: size.mean * factor }
    case 'empirical':
      return { ...size, values: size.values.map((v) => Math.max(1, Math.round(v * factor))) }
    case 'log':
      return size
  }
}
