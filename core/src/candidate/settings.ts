import type { Service } from '../plan/schema.ts'
import type { Prompts, Reservation, Routing, Split, WeightsFrom } from '../plan/ways.ts'
import { DEFAULT_PREFILL_TOKENS, DEFAULT_STEP_TOKENS } from '../service/stepDefaults.ts'

/** In what a way of running a service differs from what the service states, of what its search tries beside. */
export interface Setting {
  split?: Split
  routing?: Routing
  weightsFrom?: WeightsFrom
  prompts?: Prompts
  stepTokens?: number
  maxPrefillTokens?: number
  reservation?: Reservation
  windowSeconds?: number
}

/** One way in which a service may be run, of those that its search tries. */
export interface WayToRun {
  /** null where it differs in nothing */
  setting: Setting | null
  /** the service as it is run so: stated, nothing left to try beside it */
  service: Service
}

/** What tells one setting from another, for those who count or compare. */
export function settingKey(setting: Setting | null): string {
  return JSON.stringify(setting && SETTING_KEYS.map((key) => setting[key]))
}

/** What a setting may differ in, in the order in which it is told. */
export const SETTING_KEYS = [
  'split',
  'routing',
  'weightsFrom',
  'prompts',
  'stepTokens',
  'maxPrefillTokens',
  'reservation',
  'windowSeconds',
] as const satisfies readonly (keyof Setting)[]

type Search = NonNullable<Service['search']>
type Limits = NonNullable<Service['limits']>

/** One thing that a search may try in several ways. */
interface Dimension {
  /** the service with each of its other values; none where it does not matter */
  others: (service: Service, search: Search) => { service: Service; setting: Setting }[]
}

const withLimits = (service: Service, limits: Limits): Service => ({ ...service, limits: { ...service.limits, ...limits } })

/** A value of the service's limits: those of a list that it does not have already. */
function limit<K extends keyof Limits & keyof Setting>(
  key: K,
  valuesOf: (search: Search) => readonly NonNullable<Limits[K]>[] | undefined,
  usual: NonNullable<Limits[K]>,
  matters: (limits: Limits) => boolean = () => true,
): Dimension {
  return {
    others: (service, search) => {
      const { limits = {} } = service
      if (!matters(limits)) return []
      return (valuesOf(search) ?? [])
        .filter((v) => v !== (limits[key] ?? usual))
        .map((v) => ({ service: withLimits(service, { [key]: v }), setting: { [key]: v } }))
    },
  }
}

const DIMENSIONS: Dimension[] = [
  {
    others: (service, { splits = [] }) =>
      splits.filter((s) => s !== (service.split ?? 'heads')).map((split) => ({ service: { ...service, split }, setting: { split } })),
  },
  {
    others: (service, { routings = [] }) =>
      routings.filter((r) => r !== service.routing).map((routing) => ({ service: { ...service, routing }, setting: { routing } })),
  },
  {
    others: (service, { weightsFrom = [] }) => {
      const { start } = service
      return start
        ? weightsFrom
            .filter((from) => from !== start.weights.from)
            .map((from) => ({
              service: { ...service, start: { ...start, weights: { ...start.weights, from } } },
              setting: { weightsFrom: from },
            }))
        : []
    },
  },
  limit('prompts', (s) => s.prompts, 'whole'),
  limit(
    'stepTokens',
    (s) => s.stepTokens,
    DEFAULT_STEP_TOKENS,
    ({ prompts }) => prompts === 'interleaved',
  ),
  limit(
    'maxPrefillTokens',
    (s) => s.maxPrefillTokens,
    DEFAULT_PREFILL_TOKENS,
    ({ prompts }) => prompts !== 'interleaved',
  ),
  limit('reservation', (s) => s.reservations, 'whole'),
  limit('windowSeconds', (s) => s.windowSeconds, 0),
]

/** What a search tries beside what the service states. */
export const TRIED_BESIDE = [
  'splits',
  'routings',
  'weightsFrom',
  'prompts',
  'stepTokens',
  'maxPrefillTokens',
  'reservations',
  'windowSeconds',
] as const satisfies readonly (keyof Search)[]

/** Every way of running a service that its search tries: as it states, first, and every combination of what is tried beside. */
export function settingsOf(service: Service): WayToRun[] {
  const { search } = service
  if (!search || TRIED_BESIDE.every((key) => search[key] === undefined)) return [{ setting: null, service }]
  const stated = { ...search }
  for (const key of TRIED_BESIDE) delete stated[key]
  let ways: WayToRun[] = [{ setting: null, service: { ...service, search: stated } }]
  for (const { others } of DIMENSIONS)
    ways = ways.flatMap((w) => [
      w,
      ...others(w.service, search).map((o) => ({ service: o.service, setting: { ...w.setting, ...o.setting } })),
    ])
  return ways
}
