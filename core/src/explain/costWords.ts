import { HOURS_PER_MONTH } from '../cost/money.ts'
import { isClosedLoop } from '../plan/arrivalKinds.ts'
import type { Plan } from '../plan/schema.ts'
import { duration } from '../units/duration.ts'
import { price } from '../units/price.ts'

/** Whether a load, of one service or of all, is over when its clients are done: it is paid once then, others from month to month. */
export function isOneOff({ classes }: Pick<Plan, 'classes'>, service?: string): boolean {
  const its = classes.filter((c) => service === undefined || c.service === service)
  return its.length > 0 && its.every((c) => isClosedLoop(c.arrivals))
}

/**
 * What something costs: the amount, and what it is for.
 *
 * @param perHour in the plan's currency
 * @param service whose load it serves; that of all if left out
 * @example costParts(plan, 2) // { amount: '1 460 EUR', of: 'a month' }; of two hours of a load test { amount: '4.00 EUR', of: 'for these
 * 2 h (1 460 EUR a month if it went on)' }
 */
export function costParts(
  plan: Pick<Plan, 'classes' | 'currency' | 'horizon'>,
  perHour: number,
  service?: string,
): { amount: string; of: string } {
  const month = price(perHour * HOURS_PER_MONTH, plan.currency)
  if (!isOneOff(plan, service)) return { amount: month, of: 'a month' }
  const { seconds } = plan.horizon
  return { amount: price((perHour * seconds) / 3600, plan.currency), of: `for these ${duration(seconds)} (${month} a month if it went on)` }
}

const MONTH_SECONDS = HOURS_PER_MONTH * 3600
const DAY_SECONDS = 86_400

/**
 * What a plan that is shorter than a month costs for its own time, and a day of it where it has several; empty for others, and for loads
 * that are over when their clients are done, whose cost is that already.
 *
 * @example spanWords(plan, 2) // '336.00 EUR for these 7 d, 48.00 EUR a day'
 */
export function spanWords(plan: Pick<Plan, 'classes' | 'currency' | 'horizon'>, perHour: number, service?: string): string {
  const { seconds } = plan.horizon
  if (seconds >= MONTH_SECONDS || isOneOff(plan, service)) return ''
  const day = seconds > DAY_SECONDS ? `, ${price(perHour * 24, plan.currency)} a day` : ''
  return `${price((perHour * seconds) / 3600, plan.currency)} for these ${duration(seconds)}${day}`
}

/** The same in a sentence, with what the plan's own time costs beside. */
export function costWords(...what: Parameters<typeof costParts>): string {
  const { amount, of } = costParts(...what)
  const span = spanWords(...what)
  return `${amount} ${of}${span && ` (${span})`}`
}
