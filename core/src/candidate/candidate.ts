import { steadyPerHour } from '../cost/bill.ts'
import type { Setting } from './settings.ts'
import { purchaseKey, type GroupPrices, type Purchase } from '../cost/purchase.ts'
import type { Machine, Model, ScalingPolicy, Service, Variant } from '../plan/schema.ts'
import type { Fit } from '../service/fit.ts'
import type { Group } from '../service/host.ts'
import type { Profile } from '../service/profile.ts'

/** What keeps more of it from being had; worded by `explain`. */
export type LimitedBy = 'stock' | 'quota' | 'replica ceiling' | 'replica limit' | 'maximum of the policy' | 'one key'

/** One thing to try: everything but the number of machines. */
export interface Candidate {
  /** place in the order of enumeration, which breaks ties of cost */
  index: number
  machine: Machine
  model: Model
  variant: Variant
  /** devices per replica */
  devices: number
  /** sequences side by side, or requests in a batch */
  sequences: number
  /** the service as it is run with it */
  service: Service
  /** in what that differs from what the plan states, in words; null where in nothing */
  setting: Setting | null
  group: Group
  /** replicas that the last group has room for and that are not run, since fewer are stated */
  unusedReplicas: number
  /** how the number of replicas follows the load; null for a fixed number */
  policy: ScalingPolicy | null
  purchase: Purchase
  prices: GroupPrices
  /** how many machines there are depends on the run, up to all that can be had: it is tried once, with all of them */
  elastic: boolean
  /** what is paid depends on the run; else so many machines are paid all the time */
  paysByRun: boolean
  /**
   * groups that can be had: by stock, by quota, by the offer's ceiling or the search's limit on replicas, and that a policy may have
   * replicas for
   */
  maxGroups: number
  /** the same, whatever a policy may have: who drains keeps its machine while its successor needs another */
  obtainableGroups: number
  limitedBy: LimitedBy
  fit: Fit
}

/** Step costs of a candidate that fits. @throws Error for one that does not */
export function profileOf(candidate: Candidate): Profile {
  if (!candidate.fit.fits) throw new Error(`${candidate.machine.name} does not fit: it can not be tried`)
  return candidate.fit.profile({ sequences: candidate.sequences })
}

/** Cost per hour of a number of groups that are there all the time; the least of it where some may be taken away. */
export function costPerHour(candidate: Pick<Candidate, 'purchase' | 'prices'>, groups: number): number {
  return steadyPerHour(candidate, groups)
}

/** Machines and replicas of a number of groups. */
export function fleetOf(
  { group, unusedReplicas }: Pick<Candidate, 'group' | 'unusedReplicas'>,
  groups: number,
): { machines: number; replicas: number } {
  return { machines: groups * group.machines, replicas: groups * group.replicas - unusedReplicas }
}

/** Options that differ only in their sequence limit or setting are one option to a person who reads the answer. */
export function optionKey(candidate: Candidate): string {
  return JSON.stringify([
    candidate.machine.name,
    candidate.variant.name,
    candidate.devices,
    candidate.policy?.name ?? null,
    purchaseKey(candidate.purchase),
  ])
}

/** Where a candidate is and how it is paid, whatever the number of its replicas and how it follows the load. */
export function placeKey(candidate: Candidate): string {
  return JSON.stringify([candidate.machine.name, candidate.variant.name, candidate.devices, purchaseKey(candidate.purchase)])
}
