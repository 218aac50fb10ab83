import { callLedger, fixedLedger, livingLedger, type Ledger } from '../cost/ledger.ts'
import { isRented } from '../cost/purchase.ts'
import type { Observed } from '../measure/runSummary.ts'
import type { Plan } from '../plan/schema.ts'
import type { PaidRun } from './paidRun.ts'
import { readyAt } from './readyAt.ts'
import type { RunSpec } from './spec.ts'

/** Where the money of a run goes, over its horizon, in the plan's currency. */
export function runLedger(
  plan: Plan,
  { candidate, groups }: Pick<RunSpec, 'candidate' | 'groups'>,
  { meter, life }: Pick<Observed, 'meter' | 'life'>,
  { perHour, committedGroups }: Pick<PaidRun, 'perHour' | 'committedGroups'>,
): Ledger {
  const replicasPerGroup = candidate.group.replicas
  const horizonSeconds = plan.horizon.seconds
  if (!isRented(candidate.purchase)) return callLedger(meter, (perHour * horizonSeconds) / 3600)
  if (!life) return fixedLedger(meter, candidate, { groups, replicasPerGroup, startupSeconds: readyAt(plan, candidate.service) })
  return livingLedger(meter, life, candidate, { horizonSeconds, replicasPerGroup, committedGroups })
}
