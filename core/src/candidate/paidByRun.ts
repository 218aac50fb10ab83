import { isByCall, type Purchase } from '../cost/purchase.ts'
import type { ScalingPolicy, Service } from '../plan/schema.ts'
import { PURCHASES } from '../plan/ways.ts'

/** Whether what is paid depends on the run: replicas follow the load, or machines are lost or taken away and replaced. */
export function isPaidByRun({ losses }: Service, policy: ScalingPolicy | null, { kind }: Purchase): boolean {
  return policy !== null || losses !== undefined || PURCHASES[kind].paidByRun
}

/** Whether the number of machines follows from the run. */
export function isElastic({ policy, purchase }: { policy: ScalingPolicy | null; purchase: Purchase }): boolean {
  return policy !== null || isByCall(purchase)
}
