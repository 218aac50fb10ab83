import { isOffered } from '../cost/purchase.ts'
import { obtainable } from '../plan/machineSchema.ts'
import type { Machine } from '../plan/schema.ts'
import { PURCHASES, waysOf, type PurchaseKind } from '../plan/ways.ts'
import type { Candidate } from '../candidate/candidate.ts'
import type { Rejection } from './rejection.ts'

/** Why a configuration can not be had, or not be run. */
export type Refusal = Extract<Rejection, { kind: 'misfit' | 'not-sold' | 'no-stock' | 'too-many' }>

/**
 * Whether a configuration can be had and run: what search, simulation, check and interface ask before anything is simulated.
 *
 * @param groups that are to be there; the least that a fleet is made of if left out
 */
export function refusalOf(candidate: Candidate, groups = 1): Refusal | undefined {
  const {
    fit,
    machine,
    purchase: { kind },
    maxGroups,
    limitedBy,
    group,
  } = candidate
  if (!fit.fits) return { kind: 'misfit', misfit: fit.misfit }
  if (!isOffered(kind, machine)) return { kind: 'not-sold', machine: machine.name, purchase: candidate.purchase, sold: soldAs(machine) }
  if (maxGroups === 0) return { kind: 'no-stock', machine: machine.name, limitedBy, has: obtainable(machine), needed: group.machines }
  if (groups > maxGroups)
    return {
      kind: 'too-many',
      machine: machine.name,
      limitedBy,
      wantedMachines: groups * group.machines,
      mostMachines: maxGroups * group.machines,
      mostReplicas: maxGroups * group.replicas,
    }
  return undefined
}

/** The ways in which an offer is sold. */
function soldAs(machine: Machine): PurchaseKind[] {
  return waysOf(PURCHASES).filter((kind) => PURCHASES[kind].safeShare !== 'stated' && isOffered(kind, machine))
}
