import { exp, ln } from '../arithmetic/sameBits.ts'
import type { Plan } from '../plan/schema.ts'
import type { Load } from '../search/load.ts'
import { duration } from '../units/duration.ts'
import { grouped } from '../units/number.ts'
import { price } from '../units/price.ts'
import type { OneAsked } from './asked.ts'
import { oneRequest } from './oneRequest.ts'
import { bestTimeout, clairvoyantCost, costOfTimeout, fairTimeout, gapsBetween, type IdlePrices, type SwitchOff } from './switchOff.ts'

/** When a replica is to be switched off: by the rule alone, and over the gaps between the calls of a plan. */
export interface PlanSwitchOff {
  startUpSeconds: number
  /** what coming back costs each time */
  comeBack: number
  fairTimeoutSeconds: number
  /** over the gaps of the plan's calls on one draw; null where calls wait for others to end, so that their gaps follow from it */
  calls: { gaps: number; fair: SwitchOff; best: SwitchOff; clairvoyantCost: number; course: SwitchOff[] } | null
}

/**
 * @param load the requests of the plan, with its log where it has one
 * @param perHour of the machine
 * @param worth what it is worth that one caller does not wait for a start-up, in the plan's currency
 * @throws BadInput where the request can not be laid out
 */
export function planSwitchOff(plan: Plan, load: Load, one: OneAsked, perHour: number, worth: number): PlanSwitchOff {
  const { startUpSeconds } = oneRequest(plan, { ...one, finds: 'nothing' })
  const prices: IdlePrices = { keptPerSecond: perHour / 3600, awayPerSecond: 0, comeBack: (startUpSeconds * perHour) / 3600 + worth }
  const said = { startUpSeconds, comeBack: prices.comeBack, fairTimeoutSeconds: fairTimeout(prices) }
  const service = plan.services.find((s) => s.name === one.service)
  const requests = service && load.of(service, 0)
  if (!requests || requests.chain) return { ...said, calls: null }
  const gaps = gapsBetween(requests.at, oneRequest(plan, { ...one, finds: 'warm' }).endSeconds)
  return {
    ...said,
    calls: {
      gaps: gaps.length,
      fair: costOfTimeout(gaps, prices, said.fairTimeoutSeconds),
      best: bestTimeout(gaps, prices),
      clairvoyantCost: clairvoyantCost(gaps, prices),
      course: courseOf(gaps, prices, said.fairTimeoutSeconds),
    },
  }
}

/** Time-outs of the course are so many. */
const COURSE_POINTS = 60
const SHORTEST_SECONDS = 1

/** What time-outs cost, each a part longer than the one before, until no gap is left that is longer. */
function courseOf(gaps: readonly number[], prices: IdlePrices, fairSeconds: number): SwitchOff[] {
  const longest = gaps.reduce((most, gap) => Math.max(most, gap), 2 * Math.max(fairSeconds, SHORTEST_SECONDS)) * 1.05
  const grows = ln(longest / SHORTEST_SECONDS) / (COURSE_POINTS - 1)
  return Array.from({ length: COURSE_POINTS }, (_, i) => costOfTimeout(gaps, prices, SHORTEST_SECONDS * exp(grows * i)))
}

/** When to switch off, in a sentence each, without a full stop. */
export function switchOffWords({ comeBack, fairTimeoutSeconds, calls }: PlanSwitchOff, currency: string): string[] {
  const money = (amount: number) => price(amount, currency)
  const after = (seconds: number) => (seconds === Infinity ? 'never' : `after ${duration(seconds)}`)
  return [
    `switched off ${after(fairTimeoutSeconds)} without a call it never costs more than twice what somebody pays who knows when the next call comes: so long a wait costs what coming back does, ${money(comeBack)}`,
    calls === null
      ? 'when the calls of the plan come follows from when others end, so that nothing is said of their gaps'
      : calls.gaps === 0
        ? 'the plan has no gap between its calls'
        : `over the ${grouped(calls.gaps, 0)} gaps of the plan’s own calls, on one draw and with one replica, that costs ${money(calls.fair.cost)} with ${calls.fair.cold} cold callers; best is ${after(calls.best.timeoutSeconds)}, ${money(calls.best.cost)} with ${calls.best.cold}; who knew every gap would pay ${money(calls.clairvoyantCost)}`,
  ]
}
