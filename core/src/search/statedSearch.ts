import { candidatesOf } from '../candidate/enumerate.ts'
import { optionKey, profileOf, type Candidate } from '../candidate/candidate.ts'
import type { Plan, Service } from '../plan/schema.ts'
import { foundOf, outcomesOf } from './confirmed.ts'
import type { Load } from './load.ts'
import { ordered, type Steps } from './order.ts'
import { refusalOf } from './refusal.ts'
import type { SearchProgress } from './searchProgress.ts'
import type { ServiceSearch } from './ranked.ts'

/** Groups of machines that so many stated replicas take; a policy may have all that can be had, and finds no room beyond. */
export function statedGroups({ policy, maxGroups, group }: Candidate, replicas: number): number {
  return policy ? maxGroups : Math.ceil(replicas / group.replicas)
}

/**
 * What a service states where it searches nothing, run on every draw of its load: it is the one that is ranked, whether it keeps its
 * promises or not.
 */
export function* statedSearch(plan: Plan, service: Service, load: Load): Steps<SearchProgress, ServiceSearch> {
  const [candidate] = candidatesOf(plan, service)
  const { configuration } = service
  if (!candidate || !configuration) throw new Error(`"${service.name}" states nothing that its checks let through`)
  const found: ServiceSearch = { service, ranked: [], rejected: [], candidates: 1, simulations: 0 }
  const groups = statedGroups(candidate, configuration.replicas)
  const refusal = refusalOf(candidate, groups)
  if (refusal) return { ...found, rejected: [{ candidate, rejection: refusal, leastStrain: null }] }
  const repetitions = load.repetitions(service)
  const held = yield* ordered(
    Array.from({ length: repetitions }, (_, repetition) => ({
      service: service.name,
      candidate: candidate.index,
      groups,
      repetition,
      loadFactor: 1,
      toTheEnd: true,
    })),
    { service: service.name, settled: 0, total: 1, simulations: repetitions, best: undefined, leastPerHour: null },
  )
  const option = { candidate, profile: profileOf(candidate), key: optionKey(candidate), holdsAt: groups, held }
  return { ...found, ranked: [foundOf(plan, option, outcomesOf(plan, service, held))], simulations: repetitions }
}
