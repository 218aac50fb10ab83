import type { ScalingPolicy, Service } from '../plan/schema.ts'
import type { WeightsFrom } from '../plan/ways.ts'

/** What a policy can be changed in, one at a time. */
export type PolicyPart = 'min' | 'max' | 'target' | 'reading' | 'up' | 'down' | 'schedule' | 'ahead' | 'wake' | 'metric'

/** One thing that is different from a given run. */
export type Alteration =
  /** the policy of the run, changed in one part */
  | { kind: 'policy'; part: PolicyPart; policy: ScalingPolicy }
  /** a fixed number of groups of machines instead */
  | { kind: 'fixed'; groups: number }
  /** another policy of the service instead */
  | { kind: 'other-policy'; name: string }
  | { kind: 'weights'; from: WeightsFrom }
  | { kind: 'sequences'; sequences: number }
  | { kind: 'routing'; routing: Service['routing'] }

/** The service as the alteration leaves it: what the plan has to say so that the search can find the run. */
export function alteredService(service: Service, policyName: string | null, alteration: Alteration): Service {
  switch (alteration.kind) {
    case 'policy':
      return { ...service, policies: (service.policies ?? []).map((p) => (p.name === policyName ? alteration.policy : p)) }
    case 'weights':
      return service.start
        ? { ...service, start: { ...service.start, weights: { ...service.start.weights, from: alteration.from } } }
        : service
    case 'routing':
      return { ...service, routing: alteration.routing }
    case 'sequences': {
      const { search } = service
      return search && !search.sequences.includes(alteration.sequences)
        ? { ...service, search: { ...search, sequences: [...search.sequences, alteration.sequences].sort((a, b) => a - b) } }
        : service
    }
    case 'fixed':
    case 'other-policy':
      return service
  }
}
