import type { Purchase } from '../cost/purchase.ts'
import type { Configuration, ScalingPolicy, Service } from '../plan/schema.ts'
import { PURCHASES, type WeightsFrom } from '../plan/ways.ts'

/** What a policy can be changed in, one at a time. */
export type PolicyPart =
  'min' | 'max' | 'target' | 'reading' | 'up' | 'down' | 'schedule' | 'ahead' | 'wake' | 'metric' | 'idle' | 'keep-awake' | 'visitors'

/** One thing that is different from a given run. */
export type Alteration =
  /** the policy of the run, changed in one part */
  | { kind: 'policy'; part: PolicyPart; policy: ScalingPolicy }
  /** a fixed number of groups of machines instead */
  | { kind: 'fixed'; groups: number; replicas: number }
  /** another policy of the service instead */
  | { kind: 'other-policy'; name: string }
  | { kind: 'weights'; from: WeightsFrom }
  /** machines without replicas are stopped with their disk instead of given back, with weights kept on it or not */
  | { kind: 'stop'; weights: WeightsFrom }
  | { kind: 'image'; bytes: number }
  /** paid in another way */
  | { kind: 'purchase'; purchase: Purchase }
  | { kind: 'sequences'; sequences: number }
  | { kind: 'routing'; routing: Service['routing'] }

/** The service as the alteration leaves it: what the plan has to say so that the search can find the run. */
export function alteredService(service: Service, policyName: string | null, alteration: Alteration): Service {
  switch (alteration.kind) {
    case 'policy':
      return { ...service, policies: (service.policies ?? []).map((p) => (p.name === policyName ? alteration.policy : p)) }
    case 'weights':
      return withWeights(service, alteration.from)
    case 'stop':
      return { ...withWeights(service, alteration.weights), nodes: { ...service.nodes, whenIdle: 'stop' } }
    case 'image':
      return service.start ? { ...service, start: { ...service.start, imageBytes: alteration.bytes } } : service
    case 'routing':
      return { ...service, routing: alteration.routing }
    case 'sequences': {
      const { search } = service
      if (!search) return stating(service, { sequences: alteration.sequences })
      return search.sequences.includes(alteration.sequences)
        ? service
        : { ...service, search: { ...search, sequences: [...search.sequences, alteration.sequences].sort((a, b) => a - b) } }
    }
    case 'purchase': {
      const { search } = service
      const { kind, safeShare } = alteration.purchase
      if (!search) return stating(service, { purchase: kind, ...(PURCHASES[kind].safeShare === 'stated' && { safeShare }) })
      const tried = search.purchases ?? ['on-demand']
      return tried.includes(kind) ? service : { ...service, search: { ...search, purchases: [...tried, kind] } }
    }
    case 'fixed':
      return service.search ? service : statedBy(service, undefined, alteration.replicas)
    case 'other-policy':
      return service.search ? service : statedBy(service, alteration.name)
  }
}

function withWeights(service: Service, from: WeightsFrom): Service {
  return service.start ? { ...service, start: { ...service.start, weights: { ...service.start.weights, from } } } : service
}

/** What is stated, with something else in it. */
function stating(service: Service, patch: Partial<Configuration>): Service {
  return service.configuration ? { ...service, configuration: { ...service.configuration, ...patch } } : service
}

/** What is stated by a policy, or by a fixed number; no other policy is left that nothing would use. */
function statedBy({ configuration, policies, ...service }: Service, policy: string | undefined, replicas?: number): Service {
  if (!configuration) return { ...service, ...(policies && { policies }) }
  const { policy: _, ...rest } = configuration
  const used = (policies ?? []).filter((p) => p.name === policy)
  return {
    ...service,
    ...(used.length > 0 && { policies: used }),
    configuration: { ...rest, ...(replicas !== undefined && { replicas }), ...(policy !== undefined && { policy }) },
  }
}
