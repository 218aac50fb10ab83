import { replicasPerMachine } from '../cost/money.ts'
import type { Machine, Model, Plan, Service, Variant } from '../plan/schema.ts'
import { fit, type Fit } from '../service/fit.ts'

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
  perMachine: number
  /** machines that can be had, by stock and by the search's limit on replicas */
  maxMachines: number
  limitedBy: 'stock' | 'replica limit'
  fit: Fit
}

const DEFAULT_DEVICES = [1, 2, 4, 8]
const DEFAULT_MAX_REPLICAS = 200

/** Every candidate of a service, in a fixed order: machines, then variants, devices, sequences as the plan lists them. */
export function enumerate(plan: Plan, service: Service): Candidate[] {
  const { search } = service
  const model = plan.models.find((m) => m.name === service.model)
  if (!search || !model) return []
  const machines = plan.machines.filter((m) => search.machines?.includes(m.name) ?? true)
  const variants = model.variants.filter((v) => search.variants?.includes(v.name) ?? true)
  const out: Candidate[] = []
  for (const machine of machines) {
    for (const variant of variants) {
      for (const devices of deviceCounts(search.devices, machine)) {
        const fitting = fit(plan, service, model, variant, machine, devices)
        const perMachine = Math.max(1, replicasPerMachine(machine.devices, devices))
        const byLimit = Math.floor((search.maxReplicas ?? DEFAULT_MAX_REPLICAS) / perMachine)
        for (const sequences of search.sequences) {
          out.push({
            index: out.length, machine, model, variant, devices, sequences, perMachine, fit: fitting,
            maxMachines: Math.min(machine.stock, byLimit),
            limitedBy: machine.stock <= byLimit ? 'stock' : 'replica limit',
          })
        }
      }
    }
  }
  return out
}

/** Device counts that were asked for; of the default ones only those that a machine has. */
function deviceCounts(asked: readonly number[] | undefined, machine: Machine): number[] {
  return asked ? [...asked] : DEFAULT_DEVICES.filter((d) => d <= machine.devices)
}

/** Cost per hour of a number of machines. */
export function costPerHour(candidate: Candidate, machines: number): number {
  return candidate.machine.pricePerHour * machines
}

/** Options that differ only in their sequence limit are one option to a person who reads the answer. */
export function optionKey(candidate: Candidate): string {
  return JSON.stringify([candidate.machine.name, candidate.variant.name, candidate.devices])
}
