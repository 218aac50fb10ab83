import { purchaseKey } from '../cost/purchase.ts'
import type { Plan, Service } from '../plan/schema.ts'
import { candidateOf } from '../candidate/named.ts'
import { fleetOf } from '../candidate/candidate.ts'
import { ordered, type Steps, type TrialOrder } from '../search/order.ts'
import type { ServiceAnswer } from './answer.ts'
import { tightest, type FrontierPoint } from './frontierPoints.ts'
import { optionOf, type OptionName } from '../candidate/optionName.ts'

/** An option with the number of machines around which the frontier wants to see it, and how many groups less or more. */
export interface FrontierOption {
  option: OptionName
  machines: number
  offsets: number[]
}

/** So many of those that were ruled out are run: the cheapest. Where the others lie at best is known without (see `dustOf`). */
const RUN_AT_MOST = 24

/**
 * What to simulate for the frontier of a service beside the ranked options themselves: those with one machine fewer and one
 * and two more; the cheapest of the other machines, variants and device counts once with the number at which they were ruled
 * out and one more.
 */
export function frontierOptions(answer: ServiceAnswer): FrontierOption[] {
  const ranked = [...(answer.chosen ? [answer.chosen] : []), ...answer.runnersUp]
  const seen = new Set(ranked.map(keyOf))
  const others: (FrontierOption & { perHour: number })[] = []
  for (const option of answer.rejected) {
    const { rejection } = option
    if (!('machines' in rejection) || seen.has(keyOf(option))) continue
    seen.add(keyOf(option))
    others.push({ option: optionOf(option), machines: rejection.machines, offsets: [0, 1], perHour: rejection.perHour })
  }
  others.sort((a, b) => a.perHour - b.perHour)
  return [
    ...ranked.map((c): FrontierOption => ({ option: optionOf(c), machines: c.machines, offsets: [-1, 1, 2] })),
    ...others.slice(0, RUN_AT_MOST).map(({ option, machines, offsets }) => ({ option, machines, offsets })),
  ]
}

const keyOf = (o: OptionName) => JSON.stringify([o.machine, o.variant, o.devices, o.policy, purchaseKey(o.purchase)])

/** Simulates the options (first repetition) and gives a point for each number of machines that can be had. */
export function* frontier(plan: Plan, service: Service, options: readonly FrontierOption[]): Steps<FrontierPoint[], FrontierPoint[]> {
  const points: FrontierPoint[] = []
  for (const { option, machines, offsets } of options) {
    const candidate = candidateOf(plan, service, option)
    if (!candidate?.fit.fits) continue
    // A policy has one place only: all the machines that it may have.
    const orders = (candidate.elastic ? offsets.filter((d) => d === 0) : offsets)
      .map((d) => machines / candidate.group.machines + d)
      .filter((g) => g >= 1 && g <= candidate.maxGroups)
      .map((groups): TrialOrder => ({
        service: service.name,
        candidate: candidate.index,
        groups,
        repetition: 0,
        loadFactor: 1,
        toTheEnd: true,
      }))
    const results = yield* ordered(orders, [...points])
    results.forEach(({ values, holds, paidPerHour }, i) => {
      const { groups } = orders[i]
      points.push({
        ...option,
        machines: fleetOf(candidate, groups).machines,
        perHour: paidPerHour,
        holds,
        ...tightest(plan, service, values ?? []),
      })
    })
  }
  return points
}
