import { isByCall } from '../cost/purchase.ts'
import { ColdTime } from '../measure/coldTime.ts'
import type { Plan } from '../plan/schema.ts'
import { readyAt } from './readyAt.ts'
import type { Complete } from './run.ts'
import type { RunSpec } from './spec.ts'

/** When who waits in a run does so for a start-up. */
export function coldTimeOf(plan: Plan, { candidate }: RunSpec, { life }: Pick<Complete, 'life'>): ColdTime {
  return life ? ColdTime.of(life, isByCall(candidate.purchase)) : ColdTime.readyFrom(readyAt(plan, candidate.service))
}
