import { costPerHour } from '../candidate/candidate.ts'
import { bestCommitted, billOf, committedOfSteady, runPerHours } from '../cost/bill.ts'
import { isRented } from '../cost/purchase.ts'
import { paidSeries } from '../cost/ledger.ts'
import { tokensOverTime } from '../cost/tokens.ts'
import type { StepSeries } from '../measure/fleetPicture.ts'
import type { Plan } from '../plan/schema.ts'
import type { Complete } from './run.ts'
import type { RunSpec } from './spec.ts'

/** What a run costs. */
export interface PaidRun {
  /** what is paid an hour, over time */
  paid: StepSeries
  /** the same on average */
  perHour: number
  /** groups of machines that are committed to */
  committedGroups: number
}

/** What a run on one draw of the load costs, with the best number of groups committed to where some can be. */
export function paidRun({ horizon }: Plan, { candidate, groups }: RunSpec, { life, record }: Pick<Complete, 'life' | 'record'>): PaidRun {
  const { seconds } = horizon
  if (!candidate.paysByRun) {
    const perHour = costPerHour(candidate, groups)
    return { perHour, paid: { seconds: [0], values: [perHour] }, committedGroups: committedOfSteady(candidate, groups) }
  }
  const { committedGroups, perHour } = bestCommitted([runPerHours(candidate, record, life, seconds)], candidate.prices)
  const { tokens } = candidate.prices
  if (tokens) return { perHour, committedGroups, paid: tokensOverTime(record, tokens, seconds) }
  // Calls are paid one by one: what is shown is their mean.
  if (!life || !isRented(candidate.purchase)) return { perHour, committedGroups, paid: { seconds: [0], values: [perHour] } }
  return { perHour, committedGroups, paid: paidSeries(billOf(candidate, life, seconds, committedGroups), candidate) }
}
