import { offsetSeconds } from '../units/clockTime.ts'
import type { Plan } from '../plan/schema.ts'
import { HOURS_PER_MONTH } from './money.ts'

/** Machines of one offer that several services commit to together. */
export interface SharedCommitment {
  machine: string
  services: string[]
  committedMachines: number
  /** what all of them would commit to if each did so by itself */
  apartMachines: number
  /** what all of them pay less so */
  savedPerMonth: number
}

/** What a whole plan costs beside its machines, and what that means for its purse. Amounts in the plan's currency. */
export interface PlanMoney {
  /** what services commit to together; what each costs is told as if it did so by itself */
  shared: SharedCommitment[]
  fixed: { name: string; perMonth: number }[]
  /** null when the plan has none; left is below 0 when it is spent */
  budget: { perMonth: number; left: number } | null
  /** the balance that the plan is paid from, how long it lasts at the mean rate, and the day on which it is spent */
  prepaid: { balance: number; days: number; runsOut: string } | null
}

const DAY_MS = 86_400_000

/** @param servicesPerHour of all services together, each by itself */
export function planMoney(
  plan: Plan,
  servicesPerHour: number,
  shared: SharedCommitment[] = [],
): PlanMoney & { perHour: number; perMonth: number } {
  const fixed = plan.fixedCosts ?? []
  const perHour =
    servicesPerHour -
    shared.reduce((sum, s) => sum + s.savedPerMonth, 0) / HOURS_PER_MONTH +
    fixed.reduce((sum, f) => sum + f.perMonth, 0) / HOURS_PER_MONTH
  const perMonth = perHour * HOURS_PER_MONTH
  const { budgetPerMonth: budget, prepaid } = plan
  const days = prepaid === undefined || perHour === 0 ? Infinity : prepaid / (24 * perHour)
  return {
    perHour,
    perMonth,
    fixed,
    shared,
    budget: budget === undefined ? null : { perMonth: budget, left: budget - perMonth },
    prepaid:
      prepaid === undefined || !Number.isFinite(days) ? null : { balance: prepaid, days, runsOut: dayAfter(plan.horizon.start, days) },
  }
}

/**
 * The date, as it is at the place where the plan starts, so many days later.
 *
 * @example dayAfter('2027-03-01T00:00:00+01:00', 1.5) // '2027-03-02'
 */
function dayAfter(startIso: string, days: number): string {
  const offset = offsetSeconds(startIso) * 1000
  const at = new Date(Date.parse(startIso) + offset + Math.min(days, 36_500) * DAY_MS)
  return at.toISOString().slice(0, 10)
}
