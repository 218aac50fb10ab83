import { planMoney } from '../cost/planMoney.ts'
import type { Plan, Service } from '../plan/schema.ts'
import { bindingPart, type BindingPart } from '../search/binding.ts'
import { breakingLoad, type Breaking } from '../search/breaking.ts'
import { isKept, type Found } from '../search/found.ts'
import type { Load } from '../search/load.ts'
import type { Steps } from '../search/order.ts'
import { proveService } from '../search/prove.ts'
import { together } from '../search/together.ts'
import type { Answer } from './answer.ts'
import { withFigureOfNearest } from './figureOfNearest.ts'
import {
  mayShare,
  provedProgress,
  sayingOnce,
  settledProgress,
  wholeProgress,
  type Beside,
  type RecommendProgress,
} from './recommendProgress.ts'
import { answersOf, classSummaries } from './serviceAnswer.ts'
import { chosenOf, toldApart } from './whole.ts'
import { wholeAnswer } from './wholeAnswer.ts'

/** The cheapest configuration of every service, or what it states where it searches nothing (see `drive.ts` for how to run it). */
export function* recommend(plan: Plan, load: Load): Steps<RecommendProgress, Answer> {
  const { services } = plan
  const beside: Beside = { fixedPerHour: planMoney(plan, 0).perHour, mayShare: mayShare(plan, services) }
  const proved = yield* together(
    services.map((s) => proveService(plan, s, load)),
    wholeProgress(services, beside),
  )
  const first = yield* chosenOf<RecommendProgress>(
    plan,
    proved.map((p) => p.found),
  )
  // Where the proved ones can not be had together, others have to be known before there is an answer. What takes a run comes later.
  const early = first.conflict
    ? {}
    : {
        answer: wholeAnswer(
          plan,
          answersOf(plan, first, load, () => ({ classes: [], met: [] })),
          first,
        ),
      }
  const searched = yield* together(
    proved.map((p) => p.rankOthers()),
    sayingOnce(
      wholeProgress(
        services,
        beside,
        proved.map(({ found }, i) => provedProgress(found, first.chosen[i])),
      ),
      early,
    ),
  )
  const ranked = yield* chosenOf<RecommendProgress>(plan, searched)
  const whole = yield* toldApart(ranked, load, () => settledProgress(ranked, beside, 'what tells the answer from its rivals'))
  const { searches, chosen } = whole
  const unbroken = answersOf(plan, whole, load, (service, found) => classSummaries(plan, service, found, load))
  const figured = yield* together(
    unbroken.map((s, i) => withFigureOfNearest(plan, services[i], s)),
    sayingOnce(() => settledProgress(whole, beside, 'by how much the nearest that costs less misses'), {
      answer: wholeAnswer(plan, unbroken, whole),
    }),
  )
  const borne = yield* together(
    chosen.flatMap((found, i) =>
      found && isKept(found)
        ? [
            breakingLoad(
              plan,
              services[i].name,
              found,
              searches[i].ranked.filter((f) => f !== found),
            ),
          ]
        : [],
    ),
    () => settledProgress(whole, beside, 'how much more load the answer bears'),
  )
  return wholeAnswer(
    plan,
    figured.map((s, i) => {
      const found = chosen[i]
      const breaking = found && isKept(found) && borne.shift()
      return { ...s, breaking: breaking ? { ...breaking, binding: bindingOf(plan, services[i], found, breaking, load) } : null }
    }),
    whole,
  )
}

function bindingOf(plan: Plan, service: Service, found: Found, { breaksAt }: Breaking, load: Load): BindingPart | null {
  return breaksAt === null ? null : (bindingPart(plan, service, found, load.multiplied(service, breaksAt)) ?? null)
}
