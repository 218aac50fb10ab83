import { candidateOf, type CandidateName } from '../candidate/named.ts'
import type { Plan } from '../plan/schema.ts'
import { altered } from './alteration.ts'
import type { Alteration } from './alteredService.ts'
import type { RunSpec } from './spec.ts'

/**
 * What a name means in a plan: an option of a service with so many machines, and possibly one thing that is different.
 *
 * @returns undefined when the plan has no such run
 */
export function specOf(
  plan: Plan,
  serviceName: string,
  option: CandidateName,
  machines: number,
  alteration?: Alteration,
): RunSpec | undefined {
  const service = plan.services.find((s) => s.name === serviceName)
  const candidate = service && candidateOf(plan, service, option)
  if (!candidate?.fit.fits) return undefined
  // What a policy may have follows from the policy as it stands, which may have been changed since the search.
  const groups = candidate.elastic ? candidate.maxGroups : Math.round(machines / candidate.group.machines)
  const given: RunSpec = { service: candidate.service, candidate, groups }
  return alteration ? altered(plan, given, alteration) : given
}
