import type { LimitedBy } from '../candidate/candidate.ts'
import type { Setting } from '../candidate/settings.ts'
import type { Purchase } from '../cost/purchase.ts'
import type { PurchaseKind } from '../plan/ways.ts'
import type { Misfit } from '../service/fit.ts'
import type { Hopeless } from './hopeless.ts'
import type { Missed } from './order.ts'

/** Why an option is not the answer: data, worded by `explain`. */
export type Rejection =
  | { kind: 'misfit'; misfit: Misfit }
  | { kind: 'hopeless'; hopeless: Hopeless }
  | { kind: 'no-stock'; machine: string; limitedBy: LimitedBy; has: number; needed: number }
  /** the offer has no price for this way of paying */
  | { kind: 'not-sold'; machine: string; purchase: Purchase; sold: PurchaseKind[] }
  /** more than can be had */
  | { kind: 'too-many'; machine: string; limitedBy: LimitedBy; wantedMachines: number; mostMachines: number; mostReplicas: number }
  /** even fully busy, more machines are needed than can be had */
  | { kind: 'work'; machinesNeeded: number; maxMachines: number; limitedBy: LimitedBy }
  | { kind: 'limit'; machines: number; replicas: number; perHour: number; limitedBy: LimitedBy; missed: Missed }
  /** the least that it can cost is no better than options that were found */
  | { kind: 'dearer-bound'; machines: number; perHour: number; thanPerHour: number }
  /** it misses with `machines`; one more costs `leastPerHour`, no better than options that were found */
  | { kind: 'dearer'; machines: number; replicas: number; perHour: number; leastPerHour: number; thanPerHour: number; missed: Missed }
  /** another sequence limit or setting of the same machine, variant and device count is ranked; this one costs at least `perHour` */
  | {
      kind: 'same-option'
      sequences: number
      setting: Setting | null
      machines: number
      perHour: number
      bestSequences: number
      bestSetting: Setting | null
      bestPerHour: number
    }
  /** a policy that costs at least `perHour`, where so many machines all the time hold for no more */
  | { kind: 'no-saving'; perHour: number; machines: number; fixedPerHour: number }
