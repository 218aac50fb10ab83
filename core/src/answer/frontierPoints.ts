import { targetsOf } from '../measure/placedTargets.ts'
import { strainOf } from '../measure/targets.ts'
import { isKept } from '../search/found.ts'
import type { Plan, Service } from '../plan/schema.ts'
import type { ServiceAnswer } from './answer.ts'
import { optionOf, type OptionName } from '../candidate/optionName.ts'

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

/** The ranked options where all their draws together put them: known before anything around them is simulated. */
export function rankedPoints(plan: Plan, service: Service, answer: ServiceAnswer): FrontierPoint[] {
  return [...(answer.chosen ? [answer.chosen] : []), ...answer.runnersUp].map((c) => ({
    ...optionOf(c),
    machines: c.machines,
    perHour: c.money.perHour,
    holds: isKept(c),
    ...tightest(
      plan,
      service,
      c.targets.map((t) => t.interval?.mean ?? null),
    ),
  }))
}

/** What a configuration comes closest to missing, or misses most. @param values by `targetsOf`; null for none */
export function tightest(
  plan: Plan,
  service: Service,
  values: readonly (number | null)[],
): { strain: number | null; tightest: number; value: number | null } {
  let worst = { strain: 0, tightest: 0, value: values[0] ?? null }
  targetsOf(plan, service).forEach(({ target }, i) => {
    const value = values[i]
    if (value === null || value === undefined) return
    const strain = strainOf(value, target, plan.margin)
    if (strain > worst.strain) worst = { strain, tightest: i, value }
  })
  return Number.isFinite(worst.strain) ? worst : { ...worst, strain: null, value: null }
}
