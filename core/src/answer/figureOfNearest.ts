import { candidateOf } from '../candidate/named.ts'
import { rejectionSentence } from '../explain/rejectionSentence.ts'
import type { Plan, Service } from '../plan/schema.ts'
import { ordered, type Steps } from '../search/order.ts'
import type { ServiceAnswer } from './answer.ts'
import { nearestCheaper } from './nearestCheaper.ts'

/** The same answer with the figure by which the nearest that costs less misses: its run is taken to the end (first draw). */
export function* withFigureOfNearest(plan: Plan, service: Service, answer: ServiceAnswer): Steps<undefined, ServiceAnswer> {
  const nearest = nearestCheaper(answer)
  if (!nearest || !('missed' in nearest.option.rejection) || nearest.option.rejection.missed.value !== undefined) return answer
  const { option, machines } = nearest
  const candidate = candidateOf(plan, service, option)
  if (!candidate) return answer
  const [{ missed }] = yield* ordered(
    [
      {
        service: service.name,
        candidate: candidate.index,
        groups: machines / candidate.group.machines,
        repetition: 0,
        loadFactor: 1,
        toTheEnd: true,
      },
    ],
    undefined,
  )
  if (!missed) return answer
  const rejection = { ...nearest.option.rejection, missed }
  return {
    ...answer,
    rejected: answer.rejected.map((r) => (r === option ? { ...r, rejection, reason: rejectionSentence(rejection, plan) } : r)),
  }
}
