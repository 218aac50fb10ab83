import { isByCall } from '../cost/purchase.ts'
import { rejectionSentence } from '../explain/rejectionSentence.ts'
import type { Plan, Service } from '../plan/schema.ts'
import { candidateOf } from '../candidate/named.ts'
import { ordered, type Steps } from '../search/order.ts'
import type { RejectedOption, ServiceAnswer } from './answer.ts'

/** A rejected configuration that would cost less than the chosen one. */
export interface NearestCheaper {
  option: RejectedOption
  machines: number
  perHour: number
}

/** The option that a person would ask about: a little cheaper, and why it does not do. */
export function nearestCheaper({ chosen, rejected }: Pick<ServiceAnswer, 'chosen' | 'rejected'>): NearestCheaper | undefined {
  if (!chosen) return undefined
  let best: NearestCheaper | undefined
  for (const option of rejected) {
    const { rejection } = option
    // What comes and goes costs what its run says, and a run that missed was stopped: its cost is not known.
    const steady = option.policy === null && !isByCall(option.purchase)
    if (rejection.kind !== 'dearer' && !(rejection.kind === 'limit' && steady)) continue
    const { perHour } = rejection
    if (perHour < chosen.money.perHour && perHour > (best?.perHour ?? -1)) best = { option, machines: rejection.machines, perHour }
  }
  return best
}

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
