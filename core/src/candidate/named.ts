import { purchaseKey, type Purchase } from '../cost/purchase.ts'
import type { Configuration, Plan, Service } from '../plan/schema.ts'
import type { Candidate } from './candidate.ts'
import { triedBy } from './entries.ts'
import { settingKey, type Setting } from './settings.ts'
import { CandidateMaker, type Entry } from './makeCandidate.ts'
import { statedPlace } from './stated.ts'

/** What tells one candidate of a service from the others. */
export interface CandidateName {
  machine: string
  variant: string
  devices: number
  sequences: number
  policy: string | null
  purchase: Purchase
  setting?: Setting | null
}

/** The candidate of a service that a name means. */
export function candidateOf(plan: Plan, service: Service, name: CandidateName): Candidate | undefined {
  const tried = triedBy(plan, service)
  if (!tried) return undefined
  const wanted = settingKey(name.setting ?? null)
  for (const stands of tried.entries) {
    const entry = service.search ? stands : otherwise(service, stands, name)
    const { machine, variant, devices, sequences, policy, purchase, setting } = entry
    if (
      machine.name !== name.machine ||
      variant.name !== name.variant ||
      devices !== name.devices ||
      sequences !== name.sequences ||
      (policy?.name ?? null) !== name.policy ||
      purchaseKey(purchase) !== purchaseKey(name.purchase) ||
      settingKey(setting) !== wanted
    )
      continue
    return new CandidateMaker(plan, tried.model).at(entry)
  }
  return undefined
}

/** What is stated, run otherwise: where nothing is searched there are no other entries that a change could be found among. */
function otherwise({ policies }: Service, stated: Entry, { devices, sequences, policy, purchase }: CandidateName): Entry {
  return { ...stated, devices, sequences, purchase, policy: policies?.find((p) => p.name === policy) ?? null }
}

/**
 * The candidate that a service states, whatever its search would try: no number of replicas limits it but what can be had.
 *
 * @returns undefined when model, machine or variant are not in the plan
 */
export function statedCandidate(plan: Plan, service: Service, configuration: Configuration): Candidate | undefined {
  const place = statedPlace(plan, service, configuration)
  return place && new CandidateMaker(plan, place.model).at(place.entry)
}
