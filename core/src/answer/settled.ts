import type { RejectedOption, ServiceAnswer } from './answer.ts'

/** The rules that rule options out, from those that need the least knowledge on. */
export const RULES = [
  'misfit',
  'no-stock',
  'hopeless',
  'work',
  'dearer-bound',
  'no-saving',
  'same-option',
  'dearer',
  'limit',
] as const satisfies readonly RejectedOption['rejection']['kind'][]

/** The options that one rule ruled out, cheapest first. */
export interface SettledLayer {
  rule: (typeof RULES)[number]
  /** places in the answer's list of rejected options, and what each costs at the least, an hour; Infinity where nothing is known of it */
  places: Int32Array
  perHour: Float64Array
}

/** Every rejected option by the rule that ruled it out, and what it costs at the least. Layers without options are left out. */
export function settledLayers({ rejected }: Pick<ServiceAnswer, 'rejected'>): SettledLayer[] {
  return RULES.flatMap((rule) => {
    const layer = cheapestFirst(rejected, (r) => r.rejection.kind === rule)
    return layer.places.length === 0 ? [] : [{ rule, ...layer }]
  })
}

/** Rejected options at the best that is known of them: they cost no less and are no less tight. */
export interface Dust {
  /** places in the answer's list of rejected options, cheapest first */
  places: Int32Array
  perHour: Float64Array
  /** see `RejectedOption.leastStrain` */
  strain: Float64Array
}

/** Every rejected option that fits and of which a cost is known. */
export function dustOf({ rejected }: Pick<ServiceAnswer, 'rejected'>): Dust {
  const { places, perHour } = cheapestFirst(rejected, (r) => r.leastStrain !== null && (r.leastPerHour ?? 0) > 0)
  return { places, perHour, strain: Float64Array.from(places, (i) => rejected[i].leastStrain ?? Infinity) }
}

function cheapestFirst(rejected: readonly RejectedOption[], wanted: (r: RejectedOption) => boolean): Pick<Dust, 'places' | 'perHour'> {
  const cost = (i: number) => rejected[i].leastPerHour ?? Infinity
  const places = Int32Array.from(rejected.flatMap((r, i) => (wanted(r) ? [i] : []))).sort((a, b) => cost(a) - cost(b) || a - b)
  return { places, perHour: Float64Array.from(places, cost) }
}
