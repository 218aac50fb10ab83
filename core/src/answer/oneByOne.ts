import type { Purchase } from '../cost/purchase.ts'
import { misfitSentence } from '../explain/misfitSentence.ts'
import { purchaseName } from '../explain/purchaseWords.ts'
import type { Plan, Service } from '../plan/schema.ts'
import type { RunSpec } from '../run/spec.ts'
import { candidateOf } from '../candidate/named.ts'
import { fleetOf } from '../candidate/candidate.ts'
import type { Load } from '../search/load.ts'
import { DEFAULT_PREFILL_TOKENS, DEFAULT_STEP_TOKENS } from '../service/stepDefaults.ts'
import { measured, type LeverEffect } from './strained.ts'

/** One thing in which two runs differ, as each has it. */
export interface Difference {
  what: string
  from: string
  to: string
}

/** The way from one run to another, one change after the other, each run that lies on it simulated on the first draw. */
export interface WayBetween {
  before: LeverEffect
  steps: (Difference & { effect: LeverEffect | null; /** why there is no such run, in words */ reason: string })[]
  of: number
}

interface Field {
  what: string
  words: (spec: RunSpec) => string
  /** the run with this one thing as the other has it */
  take: (spec: Wish, from: RunSpec) => Wish
}

/** What is wanted of a run that lies between two. */
interface Wish {
  machine: string
  variant: string
  devices: number
  sequences: number
  purchase: Purchase
  scaling: { policy: string | null; replicas: number }
  service: Service
}

type Limits = NonNullable<Service['limits']>

/** Takes some of the limits of the other service. */
function takeLimits(...keys: (keyof Limits)[]): Field['take'] {
  return (w, { service }) => {
    const kept = Object.entries(w.service.limits ?? {}).filter(([key]) => !keys.some((k) => k === key))
    const taken = Object.entries(service.limits ?? {}).filter(([key]) => keys.some((k) => k === key))
    return { ...w, service: { ...w.service, limits: Object.fromEntries([...kept, ...taken]) } }
  }
}

const FIELDS: Field[] = [
  { what: 'variant', words: (s) => s.candidate.variant.name, take: (w, { candidate }) => ({ ...w, variant: candidate.variant.name }) },
  { what: 'machine', words: (s) => s.candidate.machine.name, take: (w, { candidate }) => ({ ...w, machine: candidate.machine.name }) },
  {
    what: 'devices of a replica',
    words: (s) => String(s.candidate.devices),
    take: (w, { candidate }) => ({ ...w, devices: candidate.devices }),
  },
  {
    what: 'side by side',
    words: (s) => String(s.candidate.sequences),
    take: (w, { candidate }) => ({ ...w, sequences: candidate.sequences }),
  },
  { what: 'copies', words: scalingWords, take: (w, from) => ({ ...w, scaling: wishOf(from).scaling }) },
  { what: 'paid', words: (s) => purchaseName(s.candidate.purchase), take: (w, { candidate }) => ({ ...w, purchase: candidate.purchase }) },
  {
    what: 'routing',
    words: (s) => s.service.routing,
    take: (w, { service }) => ({ ...w, service: { ...w.service, routing: service.routing } }),
  },
  {
    what: 'prompts',
    words: ({ service: { limits } }) =>
      limits?.prompts === 'interleaved'
        ? `in chunks of ${limits.stepTokens ?? DEFAULT_STEP_TOKENS} a step`
        : `whole, ${limits?.maxPrefillTokens ?? DEFAULT_PREFILL_TOKENS} a step`,
    take: takeLimits('prompts', 'stepTokens', 'maxPrefillTokens'),
  },
  { what: 'room in the cache', words: ({ service: { limits } }) => limits?.reservation ?? 'whole', take: takeLimits('reservation') },
  { what: 'wait of a batch', words: ({ service: { limits } }) => `${limits?.windowSeconds ?? 0} s`, take: takeLimits('windowSeconds') },
  {
    what: 'weights',
    words: (s) => s.service.start?.weights.from ?? 'no stages',
    take: (w, { service }) => ({ ...w, service: { ...w.service, ...(service.start && { start: service.start }) } }),
  },
]

function scalingWords(spec: RunSpec): string {
  const { replicas } = fleetOf(spec.candidate, spec.groups)
  const { policy } = spec.candidate
  if (!policy) return spec.candidate.elastic ? `up to ${replicas} by call` : `${replicas} all the time`
  return `by “${policy.name}”, ${policy.min} to ${policy.max}${JSON.stringify(policy.schedule ?? []) === '[]' ? '' : ' and windows'}`
}

/** Everything in which two runs of a service differ. */
export function differencesOf(a: RunSpec, b: RunSpec): Difference[] {
  return differing(a, b).map((f) => ({ what: f.what, from: f.words(a), to: f.words(b) }))
}

function differing(a: RunSpec, b: RunSpec): Field[] {
  return FIELDS.filter((f) =>
    f.what === 'copies'
      ? f.words(a) !== f.words(b) || JSON.stringify(a.candidate.policy) !== JSON.stringify(b.candidate.policy)
      : f.words(a) !== f.words(b),
  )
}

/**
 * Goes from one run to another by one change at a time, so that each shows its own part. Of the orders of the changes the
 * first is taken in which every run between fits and can be had; where there is none, the first order, with the gaps named.
 */
export function* oneByOne(plan: Plan, a: RunSpec, b: RunSpec, load: Load): Generator<WayBetween, WayBetween> {
  const fields = differing(a, b)
  const known = new Map<string, Between>()
  const between = (taken: readonly Field[]): Between => {
    const key = fields
      .filter((f) => taken.includes(f))
      .map((f) => f.what)
      .join()
    const found =
      known.get(key) ??
      (taken.length === fields.length
        ? { spec: b, reason: '' }
        : specOf(
            plan,
            taken.reduce((w, f) => f.take(w, b), wishOf(a)),
          ))
    known.set(key, found)
    return found
  }
  const order = firstOrder(fields, (taken) => between(taken).spec !== undefined) ?? fields
  const way: WayBetween = { before: measured('', plan, a, load, 1), steps: [], of: order.length }
  yield { ...way }
  for (let i = 0; i < order.length; i++) {
    const { spec, reason } = between(order.slice(0, i + 1))
    const difference = { what: order[i].what, from: order[i].words(a), to: order[i].words(b) }
    way.steps = [...way.steps, { ...difference, effect: spec ? measured('', plan, spec, load, 1) : null, reason }]
    yield { ...way }
  }
  return way
}

interface Between {
  spec: RunSpec | undefined
  reason: string
}

function wishOf({ candidate, service, groups }: RunSpec): Wish {
  const { machine, variant, devices, sequences, purchase, policy } = candidate
  return {
    machine: machine.name,
    variant: variant.name,
    devices,
    sequences,
    purchase,
    scaling: { policy: policy?.name ?? null, replicas: fleetOf(candidate, groups).replicas },
    service,
  }
}

function specOf(plan: Plan, { scaling, service, ...name }: Wish): Between {
  const candidate = candidateOf(plan, service, { ...name, policy: scaling.policy })
  if (!candidate) return { spec: undefined, reason: `${name.machine} is not tried or sold so` }
  if (!candidate.fit.fits) return { spec: undefined, reason: misfitSentence(candidate.fit.misfit) }
  const groups = candidate.elastic ? candidate.maxGroups : Math.ceil(scaling.replicas / candidate.group.replicas)
  if (groups > candidate.maxGroups || groups < 1)
    return {
      spec: undefined,
      reason: `${fleetOf(candidate, candidate.maxGroups).machines} × ${name.machine} can be had, ${fleetOf(candidate, groups).machines} would be needed`,
    }
  return { spec: { service, candidate, groups }, reason: '' }
}

/** The first order, of all that there are, whose every beginning is possible; the whole is. */
function firstOrder<T>(items: readonly T[], possible: (taken: readonly T[]) => boolean): T[] | undefined {
  const descend = (taken: T[]): T[] | undefined => {
    if (taken.length === items.length) return taken
    for (const item of items) {
      if (taken.includes(item)) continue
      const next = [...taken, item]
      if (next.length < items.length && !possible(next)) continue
      const found = descend(next)
      if (found) return found
    }
    return undefined
  }
  return descend([])
}
