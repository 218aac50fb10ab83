import { purchase, purchaseKey, type Purchase } from '../cost/purchase.ts'
import type { Configuration, Plan, Service } from '../plan/schema.ts'
import type { Candidate } from './candidate.ts'
import { entriesOf } from './entries.ts'
import { settingKey, type Setting } from './settings.ts'
import { CandidateMaker } from './makeCandidate.ts'

/** What the plan format lets anybody state. */
const MOST_REPLICAS = 2000

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
  const model = plan.models.find((m) => m.name === service.model)
  if (!model) return undefined
  const wanted = settingKey(name.setting ?? null)
  for (const entry of entriesOf(plan, service, model)) {
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
    return new CandidateMaker(plan, model).at(entry)
  }
  return undefined
}

/**
 * The candidate that a service states, whatever its search would try: no number of replicas limits it but what can be had.
 *
 * @returns undefined when model, machine or variant are not in the plan
 */
export function statedCandidate(plan: Plan, service: Service, configuration: Configuration): Candidate | undefined {
  const model = plan.models.find((m) => m.name === service.model)
  const machine = plan.machines.find((m) => m.name === configuration.machine)
  const variant = model?.variants.find((v) => v.name === configuration.variant)
  if (!model || !machine || !variant) return undefined
  const policy = service.policies?.find((p) => p.name === configuration.policy) ?? null
  const run: Service = { ...service, search: { ...service.search, sequences: [configuration.sequences], maxReplicas: MOST_REPLICAS } }
  return new CandidateMaker(plan, model).at({
    index: 0,
    machine,
    variant,
    policy,
    service: run,
    setting: null,
    devices: model.kind === 'cpu' ? 1 : (configuration.devices ?? 1),
    sequences: configuration.sequences,
    purchase: purchase(configuration.purchase ?? 'on-demand', configuration.safeShare),
  })
}
