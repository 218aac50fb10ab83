import type { Plan, Service } from '../plan/schema.ts'
import type { Load } from './load.ts'
import { ordered, type Steps } from './order.ts'
import type { ServiceSearch } from './ranked.ts'
import { bestOf, type SearchProgress } from './searchProgress.ts'
import { ServiceSearcher } from './searchService.ts'
import { statedSearch } from './statedSearch.ts'

/** A service whose cheapest is proved, and how to go on for the next best. */
export interface Proved {
  found: ServiceSearch
  rankOthers: () => Steps<SearchProgress, ServiceSearch>
}

/** Proves the cheapest of a service; where it searches nothing it is what it states. */
export function* proveService(plan: Plan, service: Service, load: Load): Steps<SearchProgress, Proved> {
  if (!service.search) {
    const found = yield* statedSearch(plan, service, load)
    return { found, rankOthers: () => nothingElse(found) }
  }
  const searcher = new ServiceSearcher(plan, service, load)
  return { found: yield* searcher.prove(), rankOthers: () => searcher.rankOthers() }
}

/** A step without orders, so that what is known by now is told. */
function* nothingElse(found: ServiceSearch): Steps<SearchProgress, ServiceSearch> {
  const { service, candidates, simulations, ranked } = found
  const [stated] = ranked.map((f) => bestOf(f.candidate, f.groups, f.perHour, 'stated'))
  const leastPerHour = stated?.perHour ?? null
  yield* ordered([], { service: service.name, settled: candidates, total: candidates, simulations, best: stated, leastPerHour })
  return found
}
