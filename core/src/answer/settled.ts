import type { Plan } from '../plan/schema.ts'
import type { RejectedOption, ServiceAnswer } from './answer.ts'

/** The rules that rule options out, from those that need the least knowledge on. */
export const RULES = ['misfit', 'no-stock', 'hopeless', 'work', 'dearer-bound', 'no-saving', 'same-option', 'dearer', 'limit'] as const satisfies readonly RejectedOption['rejection']['kind'][]

/** The options that one rule ruled out, cheapest first. */
export interface SettledLayer {
  rule: (typeof RULES)[number]
  /** places in the answer's list of rejected options, and what each costs at the least, an hour; Infinity where nothing is known of it */
  places: Int32Array
  perHour: Float64Array
}

/** Every rejected option by the rule that ruled it out, and what it costs at the least. Layers without options are left out. */
export function settledLayers(plan: Plan, { rejected }: ServiceAnswer): SettledLayer[] {
  const prices = new Map(plan.machines.map((m) => [m.name, m]))
  const costs = Float64Array.from(rejected, (r) => leastPerHour(r, (name) => prices.get(name)?.pricePerHour ?? Infinity, (name) => prices.get(name)?.devices ?? 1))
  return RULES.flatMap((rule) => {
    const places = Int32Array.from(rejected.flatMap((r, i) => (r.rejection.kind === rule ? [i] : []))).sort((a, b) => costs[a] - costs[b] || a - b)
    return places.length === 0 ? [] : [{ rule, places, perHour: Float64Array.from(places, (i) => costs[i]) }]
  })
}

/** What the reason says of it; else the least that a replica of it takes on demand. */
function leastPerHour({ rejection, machine, devices }: RejectedOption, priceOf: (machine: string) => number, devicesOf: (machine: string) => number): number {
  if ('leastPerHour' in rejection) return rejection.leastPerHour
  if ('perHour' in rejection) return rejection.perHour
  const machines = 'machinesNeeded' in rejection ? rejection.machinesNeeded : Math.ceil(devices / devicesOf(machine))
  return priceOf(machine) * machines
}
