import { isByCall, purchasesOf } from '../cost/purchase.ts'
import type { Machine, Model, Plan, Service } from '../plan/schema.ts'
import { offerOf } from '../plan/soldOffer.ts'
import { sideBySideOf } from '../plan/soldSchema.ts'
import { isDropped } from '../service/constraints.ts'
import type { Entry } from './makeCandidate.ts'
import { settingsOf } from './settings.ts'
import { boughtByTokens, statedPlace } from './stated.ts'

const DEFAULT_DEVICES = [1, 2, 4, 8]

/** How many candidates the services of a plan have, none of them looked at. */
export function countCandidates(plan: Plan): number {
  return plan.services.reduce((sum, service) => {
    let n = 0
    for (const _ of triedBy(plan, service)?.entries ?? []) n++
    return sum + n
  }, 0)
}

/** What runs in a service, and where every candidate of it stands: those of its search, else what it states. */
export interface Tried {
  model: Model
  entries: Iterable<Entry>
}

/** @returns undefined when what the service names is not in the plan */
export function triedBy(plan: Plan, service: Service): Tried | undefined {
  const { search, configuration } = service
  if (!search) {
    const place = configuration && statedPlace(plan, service, configuration)
    return place && { model: place.model, entries: [place.entry] }
  }
  const model = plan.models.find((m) => m.name === service.model)
  return model && { model, entries: searchedBy(plan, service, search, model) }
}

/** What is sold by tokens and serves the model, where a search is to try it. */
function* soldTo(plan: Plan, service: Service, model: Model, from: number): Generator<Entry> {
  let index = from
  const served = boughtByTokens(service)
  for (const sold of plan.soldByTokens ?? []) {
    const variant = model.variants.find((v) => v.name === sold.variant)
    const machine = offerOf(sold)
    if (sold.model !== model.name || !variant || isDropped(service, machine, variant, 1)) continue
    for (const purchase of purchasesOf(service, machine))
      yield {
        index: index++,
        machine,
        variant,
        devices: 1,
        service: served,
        setting: null,
        sequences: sideBySideOf(sold),
        policy: null,
        purchase,
      }
  }
}

function* searchedBy(plan: Plan, service: Service, search: NonNullable<Service['search']>, model: Model): Generator<Entry> {
  let index = 0
  const settings = settingsOf(service)
  for (const machine of plan.machines) {
    const purchases = purchasesOf(service, machine)
    for (const variant of model.variants) {
      for (const devices of deviceCounts(search.devices, machine, model)) {
        if (isDropped(service, machine, variant, devices)) continue
        for (const { service: run, setting } of settings) {
          // Within one machine there is one way of dividing a replica.
          if (devices <= machine.devices && run.split !== service.split) continue
          for (const sequences of search.sequences) {
            for (const policy of [null, ...(service.policies ?? [])]) {
              // Calls bring their own instances: there is nothing that a policy could scale.
              for (const purchase of purchases.filter((p) => !isByCall(p) || policy === null))
                yield { index: index++, machine, variant, devices, service: run, setting, sequences, policy, purchase }
            }
          }
        }
      }
    }
  }
  yield* soldTo(plan, service, model, index)
}

/** Device counts that were asked for; of the default ones only those that a machine has. A CPU model has nothing to do with devices. */
export function deviceCounts(asked: readonly number[] | undefined, machine: Machine, model: Model): number[] {
  if (model.kind === 'cpu') return [1]
  return asked ? [...asked] : DEFAULT_DEVICES.filter((d) => d <= machine.devices)
}
