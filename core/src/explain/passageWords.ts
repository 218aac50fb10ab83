import { peak, rateCurve } from '../demand/rate.ts'
import { ARRIVALS, isClosedLoop, withRate } from '../plan/arrivalKinds.ts'
import type { Plan, RequestClass, Service } from '../plan/schema.ts'
import { duration } from '../units/duration.ts'
import { bare, grouped, percent, threeDigits } from '../units/number.ts'
import { price } from '../units/price.ts'
import { limitWords, measureWords } from './targetWords.ts'

const joined = (figures: readonly (string | false | undefined)[]) => figures.filter((f) => f).join(' · ')

/**
 * A class in its key figures, for where its sentence is folded to a line: what arrives at the most, and its first promise.
 *
 * @example '7.72 /s · p95 TTFT 600 ms'
 */
export function classLine(plan: Plan, c: RequestClass): string {
  const [first] = c.targets
  return joined([arrivalFigure(plan, c), first && `${measureWords({ ...first, over: 'all' } as typeof first)} ${limitWords(first)}`])
}

function arrivalFigure({ horizon }: Plan, { arrivals }: RequestClass): string {
  const generated = withRate(arrivals)
  if (generated) return `${threeDigits(peak(rateCurve(generated, horizon.seconds, 1, horizon.start)).ratePerSecond)}\u00a0/s`
  return isClosedLoop(arrivals) ? `${grouped(arrivals.clients, 0)} clients` : ARRIVALS[arrivals.kind].means
}

/** A service in its key figures: what it runs, and how many ways of scaling it tries. @example 'Curlew 14B · 2 policies' */
export function serviceLine(service: Service): string {
  const policies = service.policies?.length ?? 0
  const side = service.search?.sequences ?? []
  return joined([
    service.model,
    service.start ? false : `ready in ${bare(duration(service.startupSeconds ?? 0))}`,
    policies > 0 ? `${policies} ${policies === 1 ? 'policy' : 'policies'}` : side.length > 0 && `${side.join(' or ')} at once`,
  ])
}

/** Money in its key figures: what it may cost, from what, beside what, and how it grows. */
export function moneyLine(plan: Plan): string {
  const fixed = plan.fixedCosts?.length ?? 0
  return joined([
    plan.budgetPerMonth === undefined ? 'no budget' : `at most ${price(plan.budgetPerMonth, plan.currency)} a month`,
    fixed > 0 && `${fixed} fixed ${fixed === 1 ? 'cost' : 'costs'}`,
    plan.expectedGrowthPerMonth !== undefined && `grows ${bare(percent(plan.expectedGrowthPerMonth))} a month`,
  ])
}

/** How sure the answer is to be. @example '15 % to spare · 3 draws · 90 % of worlds' */
export function trustLine({ margin, repetitions, certainty }: Plan): string {
  return joined([
    `${bare(percent(margin))} to spare`,
    `${repetitions} ${repetitions === 1 ? 'draw' : 'draws'}`,
    certainty !== undefined && `${bare(percent(certainty))} of worlds`,
  ])
}
