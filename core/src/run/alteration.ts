import { candidateOf } from '../candidate/named.ts'
import type { Candidate } from '../candidate/candidate.ts'
import type { Plan } from '../plan/schema.ts'
import type { RunSpec } from './spec.ts'
import { alteredService, type Alteration } from './alteredService.ts'

/** The run with one thing different; undefined when there is no such configuration, or no machines for it. */
export function altered(plan: Plan, { candidate, groups }: RunSpec, alteration: Alteration): RunSpec | undefined {
  const next = alteredService(candidate.service, candidate.policy?.name ?? null, alteration)
  const named = candidateOf(plan, next, {
    machine: candidate.machine.name,
    variant: candidate.variant.name,
    devices: candidate.devices,
    sequences: alteration.kind === 'sequences' ? alteration.sequences : candidate.sequences,
    policy: policyOf(candidate, alteration),
    purchase: alteration.kind === 'purchase' ? alteration.purchase : candidate.purchase,
  })
  if (!named?.fit.fits) return undefined
  const most = alteration.kind === 'fixed' ? alteration.groups : named.elastic ? named.maxGroups : groups
  return most > named.maxGroups || most < 1 ? undefined : { service: next, candidate: named, groups: most }
}

function policyOf({ policy }: Candidate, alteration: Alteration): string | null {
  if (alteration.kind === 'fixed') return null
  if (alteration.kind === 'other-policy') return alteration.name
  return alteration.kind === 'policy' ? alteration.policy.name : (policy?.name ?? null)
}
