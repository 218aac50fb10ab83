import type { CandidateName } from '../candidate/named.ts'
import { fleetOf } from '../candidate/candidate.ts'
import type { Plan, Service } from '../plan/schema.ts'
import { isSearched } from '../plan/searched.ts'
import { PURCHASES } from '../plan/ways.ts'
import { alteredService, type Alteration } from './alteredService.ts'
import { specOf } from './specOf.ts'

/**
 * A service that states what an option of it runs as, possibly with one thing different, and searches nothing any more.
 *
 * @returns undefined when the plan has no such option
 */
export function statedAs(
  plan: Plan,
  serviceName: string,
  option: CandidateName,
  machines: number,
  alteration?: Alteration,
): Service | undefined {
  const spec = specOf(plan, serviceName, option, machines)
  if (!spec) return undefined
  const { candidate, groups } = spec
  const { search: _, policies, ...service } = candidate.service
  const { policy, purchase } = candidate
  const used = (policies ?? []).filter((p) => p.name === policy?.name)
  const stated: Service = {
    ...service,
    ...(used.length > 0 && { policies: used }),
    configuration: {
      machine: candidate.machine.name,
      variant: candidate.variant.name,
      devices: candidate.devices,
      sequences: candidate.sequences,
      replicas: fleetOf(candidate, groups).replicas,
      purchase: purchase.kind,
      ...(PURCHASES[purchase.kind].safeShare === 'stated' && { safeShare: purchase.safeShare }),
      ...(policy && { policy: policy.name }),
    },
  }
  return alteration ? alteredService(stated, policy?.name ?? null, alteration) : stated
}

/** Whether a change is of what the search of a service decides: then it has to be stated, and the service is searched no more. */
export function isDecidedBySearch(plan: Plan, serviceName: string, { kind }: Alteration): boolean {
  return isSearched(plan, serviceName) && (kind === 'fixed' || kind === 'purchase' || kind === 'other-policy')
}
