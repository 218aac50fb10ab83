import { ln } from '../arithmetic/sameBits.ts'
import { optionName } from '../candidate/optionName.ts'
import type { Plan, Service } from '../plan/schema.ts'
import { sum } from '../units/sum.ts'
import { USUAL_WORLDS, worldOf, type World } from '../world/worldOf.ts'
import type { WorldsSeen } from './found.ts'
import type { Option } from './option.ts'
import { ORDERS_AT_ONCE, trialOrder, type Missed, type TrialOrder, type TrialResult } from './order.ts'

/** How many of so many worlds have to be kept. */
export const worldsWanted = (certainty: number, of: number): number => Math.ceil(certainty * of - 1e-9)

/**
 * Whether options keep their promises in as many worlds as a plan asks for. Worlds are the same for all of them, and are run until their
 * count says it: those first in which most takes longer, since a world that breaks says more than one that holds.
 */
export class Certain {
  private readonly service: Service
  private readonly certainty: number
  private readonly worlds: World[]

  constructor(plan: Plan, service: Service, certainty: number) {
    this.service = service
    this.certainty = certainty
    this.worlds = Array.from({ length: USUAL_WORLDS }, (_, number) => worldOf(plan, number))
  }

  /**
   * Runs worlds until it is plain.
   *
   * @param order carries orders out
   * @returns what was seen, and what broke if too many did
   */
  *judge<S>(
    option: Option,
    order: (orders: TrialOrder[]) => Generator<S, TrialResult[], unknown>,
  ): Generator<S, { seen: WorldsSeen; missed: Missed | undefined }, unknown> {
    const of = this.worlds.length
    const wanted = worldsWanted(this.certainty, of)
    const left = this.hardestFirst(option)
    const seen = { kept: 0, run: 0, of }
    let first: Missed | undefined
    while (seen.kept < wanted && seen.run - seen.kept <= of - wanted) {
      const results = yield* order(left.splice(0, ORDERS_AT_ONCE).map((number) => this.orderIn(option, number)))
      seen.run += results.length
      seen.kept += results.filter((r) => r.holds).length
      first ??= results.find((r) => r.missed)?.missed ?? undefined
    }
    const broken = seen.run - seen.kept
    return { seen, missed: broken > of - wanted && first ? { ...first, worlds: { broken, run: seen.run, of } } : undefined }
  }

  private orderIn({ candidate, holdsAt }: Option, number: number): TrialOrder {
    const { loadFactor, repetition } = this.worlds[number]
    return { ...trialOrder(this.service, candidate, holdsAt), toTheEnd: false, world: number, loadFactor, repetition }
  }

  private hardestFirst({ candidate }: Option): number[] {
    const { machine, variant } = optionName(candidate)
    const hardness = this.worlds.map((w) => sum(Object.values(w.factorsAt(this.service.name, { machine, variant })), (f) => ln(f)))
    return hardness.map((_, number) => number).sort((a, b) => hardness[b] - hardness[a] || a - b)
  }
}
