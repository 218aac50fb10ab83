import type { Plan } from '../plan/schema.ts'
import { HOURS_PER_MONTH } from './money.ts'

/** What a whole plan costs beside its machines, and what that means for its purse. Amounts in the plan's currency. */
export interface PlanMoney {
  fixed: { name: string; perMonth: number }[]
  /** null when the plan has none; left is below 0 when it is spent */
  budget: { perMonth: number; left: number } | null
  /** the balance that the plan is paid from, how long it lasts at the mean rate, and the day on which it is spent */
  prepaid: { balance: number; days: number; runsOut: string } | null
}

const DAY_MS = 86_400_000

/** @param machinesPerHour of all services together */
export function planMoney(plan: Plan, machinesPerHour: number): PlanMoney & { perHour: number; perMonth: number } {
  const fixed = plan.fixedCosts ?? []
  const perHour = machinesPerHour + fixed.reduce((sum, f) => sum + f.perMonth, 0) / HOURS_PER_MONTH
  const perMonth = perHour * HOURS_PER_MONTH
  const { budgetPerMonth: budget, prepaid } = plan
  const days = prepaid === undefined || perHour === 0 ? Infinity : prepaid / (24 * perHour)
  return {
    perHour, perMonth, fixed,
    budget: budget === undefined ? null : { perMonth: budget, left: budget - perMonth },
    prepaid: prepaid === undefined || !Number.isFinite(days) ? null : { balance: prepaid, days, runsOut: dayAfter(plan.horizon.start, days) },
  }
}

/** The date, as it is at the place where the plan starts, so many days later. @example dayAfter('2027-03-01T00:00:00+01:00', 1.5) // '2027-03-02' */
function dayAfter(startIso: string, days: number): string {
  const zone = /([+-])(\d\d):(\d\d)$/.exec(startIso)
  const offset = zone ? (zone[1] === '-' ? -1 : 1) * (Number(zone[2]) * 60 + Number(zone[3])) * 60_000 : 0
  const at = new Date(Date.parse(startIso) + offset + Math.min(days, 36_500) * DAY_MS)
  return at.toISOString().slice(0, 10)
}
