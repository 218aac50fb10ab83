import { limitOf } from '../measure/targets.ts'
import type { Plan, Service } from '../plan/schema.ts'
import { costPerHour, enumerate, type Candidate } from '../search/candidate.ts'
import type { Search, TrialOrder } from '../search/order.ts'
import { targetsOf } from '../search/trial.ts'
import type { Choice, OptionName } from './answer.ts'

/** A configuration on the plane of cost against the target that it comes closest to missing, or misses most. */
export interface FrontierPoint extends OptionName {
  machines: number
  perHour: number
  /** value of the tightest target divided by its limit, head-room taken off: 1 is just enough, above is a miss; null for "never" */
  strain: number | null
  /** index into `targetsOf` */
  tightest: number
  value: number | null
  holds: boolean
}

/** One machine fewer than an option needs, and so many more. */
const FEWER = 1
const MORE = 2

/**
 * Points around the ranked options of a service: each with the machines that it needs, one fewer and a few more, by
 * the first repetition.
 */
export function* frontier(plan: Plan, service: Service, ranked: readonly Choice[]): Search<FrontierPoint[], FrontierPoint[]> {
  const points: FrontierPoint[] = []
  for (const choice of ranked) {
    const candidate = candidateOf(plan, service, choice)
    if (!candidate) continue
    const from = Math.max(1, choice.machines - FEWER)
    const until = Math.min(candidate.maxMachines, choice.machines + MORE)
    const orders = Array.from({ length: until - from + 1 }, (_, i): TrialOrder => ({
      service: service.name, candidate: candidate.index, machines: from + i, repetition: 0, loadFactor: 1, toTheEnd: true,
    }))
    const results = yield { orders, progress: [...points] }
    results.forEach(({ values, holds }, i) => {
      const { machines } = orders[i]
      points.push({ ...nameOf(choice), machines, perHour: costPerHour(candidate, machines), holds, ...tightest(plan, service, values ?? []) })
    })
  }
  return points
}

function tightest(plan: Plan, service: Service, values: readonly (number | null)[]): { strain: number | null; tightest: number; value: number | null } {
  let worst = { strain: 0, tightest: 0, value: values[0] ?? null }
  targetsOf(plan, service).forEach(({ target }, i) => {
    const value = values[i]
    if (value === null || value === undefined) return
    const { limit, smallerIsBetter } = limitOf(target, plan.margin)
    const strain = smallerIsBetter ? (value === 0 ? 0 : value / limit) : limit / value
    if (strain > worst.strain) worst = { strain, tightest: i, value }
  })
  return Number.isFinite(worst.strain) ? worst : { ...worst, strain: null, value: null }
}

/** The candidate of a service that a name means. */
export function candidateOf(plan: Plan, service: Service, name: Pick<OptionName, 'machine' | 'variant' | 'devices' | 'sequences'>): Candidate | undefined {
  return enumerate(plan, service).find(
    (c) => c.machine.name === name.machine && c.variant.name === name.variant && c.devices === name.devices && c.sequences === name.sequences,
  )
}

function nameOf({ machine, provider, region, variant, devices, sequences }: OptionName): OptionName {
  return { machine, provider, region, variant, devices, sequences }
}
