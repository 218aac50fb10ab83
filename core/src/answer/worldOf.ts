import { exp, ln } from '../arithmetic/sameBits.ts'
import type { StatedDoubt } from '../plan/doubtSchema.ts'
import type { Machine, Plan } from '../plan/schema.ts'
import { normalQuantile } from '../random/normalQuantile.ts'
import { RandomStream } from '../random/stream.ts'
import { dearer, longerStart, slower, START_STAGES, type StartFactors } from './worldParts.ts'

/** What can be otherwise than a plan says. */
export type Doubted = 'bandwidth' | 'arithmetic' | 'launch' | 'step costs' | 'start-up' | 'load'

/** A plan as it may as well be, with what of it is otherwise. */
export interface World {
  plan: Plan
  loadFactor: number
  /** by how much each is off, of the place that is looked at: above 1 takes longer, or is more */
  factors: Partial<Record<Doubted, number>>
}

/** Doubts that are taken where a plan states none. */
export const USUAL_DOUBT = { derived: 0.15, typed: 0.15, startUp: 0.15, load: 0 } as const satisfies Required<StatedDoubt>

/** Doubts of a plan, with what is usual where it states none. */
export const doubtOf = ({ doubt = {} }: Pick<Plan, 'doubt'>): Required<{ [K in keyof StatedDoubt]: number }> => ({
  derived: doubt.derived ?? USUAL_DOUBT.derived,
  typed: doubt.typed ?? USUAL_DOUBT.typed,
  startUp: doubt.startUp ?? USUAL_DOUBT.startUp,
  load: doubt.load ?? USUAL_DOUBT.load,
})

const HALF_WIDTH = normalQuantile(0.975)

/**
 * World number `number` of a plan, as its doubts allow: the same number is the same world. What is unsure is a factor around 1, lognormal,
 * that lies within 1 ± its doubt in 95 of 100. Each machine's bandwidth and arithmetic, the launch of a step, each place whose step costs
 * are stated or fitted, each stage of a start-up and the load are drawn apart, by their names, so that a place is alike in a world whoever
 * is compared there. Head-room is left out: it stands for the doubt that is drawn here.
 *
 * @param place which machine and variant are looked at, for `factors`
 */
export function worldOf(plan: Plan, serviceName: string, place: { machine: string; variant: string }, number: number): World {
  const doubt = doubtOf(plan)
  const stream = (...names: string[]) => new RandomStream(plan.seed, 'world', String(number), ...names)
  const factor = (share: number, ...names: string[]) =>
    share === 0 ? 1 : exp((ln(1 + share) / HALF_WIDTH) * normalQuantile(stream(...names).open()))
  const ofMachine = (m: Machine) => ({
    bandwidth: factor(doubt.derived, 'bandwidth', m.device),
    arithmetic: factor(doubt.derived, 'arithmetic', m.device),
  })
  const launch = factor(doubt.derived, 'launch')
  const costs = (variant: string, machine = '') => factor(doubt.typed, 'step costs', variant, machine)
  const start = Object.fromEntries(START_STAGES.map((stage) => [stage, factor(doubt.startUp, 'start-up', stage)])) as StartFactors // all of them
  const loadFactor = factor(doubt.load, 'load')
  const next: Plan = {
    ...plan,
    margin: 0,
    assumptions: { ...plan.assumptions, launchSeconds: plan.assumptions.launchSeconds * launch },
    machines: plan.machines.map((m) => slower(m, ofMachine(m))),
    // Only figures of their entries change.
    models: plan.models.map((m) => ({
      ...m,
      variants: m.variants.map((v) =>
        dearer(
          v,
          (machine) => costs(v.name, machine),
          (machine) => stream('step costs', v.name, machine ?? ''),
        ),
      ),
    })) as Plan['models'],
    services: plan.services.map((s) => longerStart(s, start)),
  }
  return { plan: next, loadFactor, factors: { ...ofPlace(), ...(doubt.load > 0 && { load: loadFactor }) } }

  function ofPlace(): World['factors'] {
    const service = plan.services.find((s) => s.name === serviceName)
    const machine = plan.machines.find((m) => m.name === place.machine)
    const variant = plan.models.find((m) => m.name === service?.model)?.variants.find((v) => v.name === place.variant)
    const stated = [...(variant?.profiles ?? []), ...(variant?.measurements ?? [])].some(
      (p) => (p.machine ?? place.machine) === place.machine,
    )
    const stages = START_STAGES.reduce((product, stage) => product * start[stage], 1)
    return {
      ...(stated ? { 'step costs': costs(place.variant, place.machine) } : machine && { ...ofMachine(machine), launch }),
      ...(service?.start && { 'start-up': stages }),
    }
  }
}
