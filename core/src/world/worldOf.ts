import { exp, ln } from '../arithmetic/sameBits.ts'
import type { StatedDoubt } from '../plan/doubtSchema.ts'
import type { Machine, Plan, Service } from '../plan/schema.ts'
import { normalQuantile } from '../random/normalQuantile.ts'
import { RandomStream } from '../random/stream.ts'
import { Z95 } from '../service/quality.ts'
import { longerOrder, longerStart, START_STAGES, withCosts, type StartFactors } from './worldParts.ts'

/** What can be otherwise than a plan says. */
export type Doubted = 'bandwidth' | 'arithmetic' | 'launch' | 'step costs' | 'start-up' | 'load'

export interface Place {
  machine: string
  variant: string
}

/** By how much each is off: above 1 takes longer, or is more. */
export type Factors = Partial<Record<Doubted, number>>

/** A plan as it may as well be, with what of it is otherwise. */
export interface World {
  plan: Plan
  loadFactor: number
  /** which draw of its load it has, of those that the plan has, in turn */
  repetition: number
  /** what is off for a service on a machine and in a variant */
  factorsAt: (service: string, place: Place) => Factors
}

/** Worlds that are drawn where nobody says how many, and where a plan asks for a certainty. */
export const USUAL_WORLDS = 100

/** Doubts that are taken where a plan states none. */
export const USUAL_DOUBT = { derived: 0.15, typed: 0.15, startUp: 0.15, load: 0 } as const satisfies Required<StatedDoubt>

/** Doubts of a plan, with what is usual where it states none. */
export const doubtOf = ({ doubt = {} }: Pick<Plan, 'doubt'>): Required<{ [K in keyof StatedDoubt]: number }> => ({
  derived: doubt.derived ?? USUAL_DOUBT.derived,
  typed: doubt.typed ?? USUAL_DOUBT.typed,
  startUp: doubt.startUp ?? USUAL_DOUBT.startUp,
  load: doubt.load ?? USUAL_DOUBT.load,
})

/**
 * World number `number` of a plan, as its doubts allow: the same number is the same world. What is unsure is a factor around 1, lognormal,
 * that lies within 1 ± its doubt in 95 of 100. Each machine's bandwidth and arithmetic, the launch of a step, each place whose step costs
 * are stated or fitted, each stage of a start-up and the load are drawn apart, by their names, so that a place is alike in a world whoever
 * is compared there. Head-room is left out: it stands for the doubt that is drawn here.
 */
export function worldOf(plan: Plan, number: number): World {
  const doubt = doubtOf(plan)
  const stream = (...names: string[]) => new RandomStream(plan.seed, 'world', String(number), ...names)
  const factor = (share: number, ...names: string[]) =>
    share === 0 ? 1 : exp((ln(1 + share) / Z95) * normalQuantile(stream(...names).open()))
  const ofMachine = (m: Machine) => ({
    bandwidth: factor(doubt.derived, 'bandwidth', m.device),
    arithmetic: factor(doubt.derived, 'arithmetic', m.device),
  })
  const launch = factor(doubt.derived, 'launch')
  const costs = (...names: string[]) => factor(doubt.typed, 'step costs', ...names)
  const start = Object.fromEntries(START_STAGES.map((stage) => [stage, factor(doubt.startUp, 'start-up', stage)])) as StartFactors // all of them
  const loadFactor = factor(doubt.load, 'load')
  const otherwise = withCosts(plan, {
    machine: ofMachine,
    launch,
    place: (variant, machine = '') => costs(variant, machine),
    own: (service) => costs('of', service),
    sold: (name) => costs('sold', name),
    random: (variant, machine = '') => stream('step costs', variant, machine),
  })
  const next: Plan = {
    ...otherwise,
    margin: 0,
    machines: otherwise.machines.map((m) => longerOrder(m, start)),
    services: otherwise.services.map((s) => longerStart(s, start)),
  }
  return { plan: next, loadFactor, repetition: number % plan.repetitions, factorsAt }

  function factorsAt(serviceName: string, place: Place): Factors {
    const service = plan.services.find((s) => s.name === serviceName)
    const stages = START_STAGES.reduce((product, stage) => product * start[stage], 1)
    return { ...stepsOf(service, place), ...(service?.start && { 'start-up': stages }), ...(doubt.load > 0 && { load: loadFactor }) }
  }

  function stepsOf(service: Service | undefined, place: Place): Factors {
    if (service?.configuration?.profile) return { 'step costs': costs('of', service.name) }
    if (plan.soldByTokens?.some((s) => s.name === place.machine)) return { 'step costs': costs('sold', place.machine) }
    const machine = plan.machines.find((m) => m.name === place.machine)
    const variant = plan.models.find((m) => m.name === service?.model)?.variants.find((v) => v.name === place.variant)
    const here = (p: { machine?: string | undefined }) => (p.machine ?? place.machine) === place.machine
    const found = variant?.profiles?.findIndex((p) => here(p) && p.measured?.certainty) ?? -1
    if (variant && found >= 0) return { 'step costs': foundFactor(plan, next, service?.model, variant.name, found) }
    const stated = [...(variant?.profiles ?? []), ...(variant?.measurements ?? [])].find(here)
    return stated ? { 'step costs': costs(place.variant, stated.machine ?? '') } : machine ? { ...ofMachine(machine), launch } : {}
  }
}

/** What is drawn by its own intervals has no one factor: that of a decode step and so many prompt tokens stands for it. */
const PROMPT_TOKENS = 200
function foundFactor(plan: Plan, world: Plan, model: string | undefined, variant: string, place: number): number {
  const seconds = (of: Plan) => {
    const profile = of.models.find((m) => m.name === model)?.variants.find((v) => v.name === variant)?.profiles?.[place].profile
    return profile?.kind === 'token' && typeof profile.memorySeconds === 'number'
      ? profile.memorySeconds + PROMPT_TOKENS * profile.prefillSecondsPerToken
      : 1
  }
  return seconds(world) / seconds(plan)
}
