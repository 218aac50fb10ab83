import type { Service } from '../plan/schema.ts'
import { PROMPTS, RESERVATIONS, ROUTINGS, SPLITS, WEIGHTS_FROM } from '../plan/ways.ts'
import { DEFAULT_PREFILL_TOKENS, DEFAULT_STEP_TOKENS } from '../service/fit.ts'

/** One way in which a service may be run, of those that its search tries. */
export interface Setting {
  /** in what it differs from what the service states, in words; null where in nothing */
  name: string | null
  /** the service as it is run so: stated, nothing left to try beside it */
  service: Service
}

type Search = NonNullable<Service['search']>
type Limits = NonNullable<Service['limits']>

/** One thing that a search may try in several ways. */
interface Dimension {
  /** the service with each of its other values, and what that is in words; none where it does not matter */
  others: (service: Service, search: Search) => { service: Service; words: string }[]
}

const withLimits = (service: Service, limits: Limits): Service => ({ ...service, limits: { ...service.limits, ...limits } })

/** A value of the service's limits: those of a list that it does not have already. */
function limit<K extends keyof Limits>(key: K, valuesOf: (search: Search) => readonly NonNullable<Limits[K]>[] | undefined, usual: NonNullable<Limits[K]>, words: (value: NonNullable<Limits[K]>) => string, matters: (limits: Limits) => boolean = () => true): Dimension {
  return {
    others: (service, search) => {
      const { limits = {} } = service
      if (!matters(limits)) return []
      return (valuesOf(search) ?? []).filter((v) => v !== (limits[key] ?? usual)).map((v) => ({ service: withLimits(service, { [key]: v }), words: words(v) }))
    },
  }
}

const DIMENSIONS: Dimension[] = [
  { others: (service, { splits = [] }) => splits.filter((s) => s !== (service.split ?? 'heads')).map((split) => ({ service: { ...service, split }, words: SPLITS[split].words })) },
  { others: (service, { routings = [] }) => routings.filter((r) => r !== service.routing).map((routing) => ({ service: { ...service, routing }, words: ROUTINGS[routing].words })) },
  {
    others: (service, { weightsFrom = [] }) => {
      const { start } = service
      return start ? weightsFrom.filter((from) => from !== start.weights.from).map((from) => ({ service: { ...service, start: { ...start, weights: { ...start.weights, from } } }, words: WEIGHTS_FROM[from].words })) : []
    },
  },
  limit('prompts', (s) => s.prompts, 'whole', (v) => PROMPTS[v].words),
  limit('stepTokens', (s) => s.stepTokens, DEFAULT_STEP_TOKENS, (v) => `${v} tokens a step`, ({ prompts }) => prompts === 'interleaved'),
  limit('maxPrefillTokens', (s) => s.maxPrefillTokens, DEFAULT_PREFILL_TOKENS, (v) => `${v} prompt tokens a step`, ({ prompts }) => prompts !== 'interleaved'),
  limit('reservation', (s) => s.reservations, 'whole', (v) => RESERVATIONS[v].words),
  limit('windowSeconds', (s) => s.windowSeconds, 0, (v) => (v === 0 ? 'batches that do not wait' : `batches that wait ${v} s`)),
]

/** What a search tries beside what the service states. */
export const TRIED_BESIDE = ['splits', 'routings', 'weightsFrom', 'prompts', 'stepTokens', 'maxPrefillTokens', 'reservations', 'windowSeconds'] as const satisfies readonly (keyof Search)[]

/** Every way of running a service that its search tries: as it states, first, and every combination of what is tried beside. */
export function settingsOf(service: Service): Setting[] {
  const { search } = service
  if (!search || TRIED_BESIDE.every((key) => search[key] === undefined)) return [{ name: null, service }]
  const stated = { ...search }
  for (const key of TRIED_BESIDE) delete stated[key]
  let settings: { service: Service; words: string[] }[] = [{ service: { ...service, search: stated }, words: [] }]
  for (const { others } of DIMENSIONS) settings = settings.flatMap((s) => [s, ...others(s.service, search).map((o) => ({ service: o.service, words: [...s.words, o.words] }))])
  return settings.map((s) => ({ name: s.words.length > 0 ? s.words.join(', ') : null, service: s.service }))
}
