import { HOURS_PER_MONTH, money } from '../cost/money.ts'
import { rejectionSentence } from '../explain/rejectionSentence.ts'
import { summarise } from '../measure/summary.ts'
import { headRoom } from '../measure/targets.ts'
import type { Plan, Service } from '../plan/schema.ts'
import { price } from '../units/price.ts'
import { CORE_VERSION } from '../version.ts'
import { ANSWER_FORMAT, ANSWER_VERSION, type Answer, type Choice, type OptionName, type ServiceAnswer, type TargetAnswer } from './answer.ts'
import { breakingLoad, type Breaking } from '../search/breaking.ts'
import type { Candidate } from '../search/candidate.ts'
import type { Found, TargetOutcome } from '../search/found.ts'
import { chooseTogether } from '../search/joint.ts'
import type { Load } from '../search/load.ts'
import { searchService, type SearchProgress, type ServiceSearch } from '../search/searchService.ts'
import type { Search, TrialResult } from '../search/order.ts'
import { tryOut } from '../search/trial.ts'

/** Progress over all services of a plan. */
export interface RecommendProgress {
  settled: number
  total: number
  simulations: number
  /** what is being worked on, as a person would say it */
  doing: string
}

/**
 * The cheapest configuration of every service that states a search (see `drive.ts` for how to run it).
 */
export function* recommend(plan: Plan, load: Load): Search<RecommendProgress, Answer> {
  const services = plan.services.filter((s) => s.search)
  const searches: ServiceSearch[] = []
  for (const service of services) {
    const before = searches.reduce((sum, s) => sum + s.candidates, 0)
    const simulated = searches.reduce((sum, s) => sum + s.simulations, 0)
    searches.push(yield* reported(searchService(plan, service, load), before, simulated, services.length - searches.length))
  }
  const together = chooseTogether(searches)
  const answers: ServiceAnswer[] = []
  for (const [i, search] of searches.entries()) {
    const chosen = together?.[i] ?? search.ranked[0]
    const breaking = chosen ? yield* reportedBreaking(search, chosen, searches) : null
    answers.push(serviceAnswer(plan, search, chosen, breaking, load))
  }
  return wholeAnswer(plan, answers, together === undefined)
}

function wholeAnswer(plan: Plan, services: ServiceAnswer[], conflict: boolean): Answer {
  const perHour = services.reduce((sum, s) => sum + (s.chosen?.money.perHour ?? 0), 0)
  const perMonth = services.reduce((sum, s) => sum + (s.chosen?.money.perMonth ?? 0), 0)
  return {
    format: ANSWER_FORMAT, version: ANSWER_VERSION, coreVersion: CORE_VERSION, plan, services, perHour, perMonth, currency: plan.currency,
    meets: !conflict && services.length > 0 && services.every((s) => s.chosen !== null),
    conflict: conflict ? 'The best options of several services want the same machines, more than the stock has. Raise the stock or let one service search other machines.' : null,
  }
}

function* reported(search: Search<SearchProgress, ServiceSearch>, before: number, simulated: number, servicesLeft: number): Search<RecommendProgress, ServiceSearch> {
  let results: TrialResult[] = []
  for (;;) {
    const step = search.next(results)
    if (step.done) return step.value
    const { settled, total, simulations, service, best } = step.value.progress
    const doing = best ? `${service}: best so far ${best.machines} × ${best.candidate.machine.name}` : `${service}: nothing holds yet`
    const progress = { settled: before + settled, total: before + total * servicesLeft, simulations: simulated + simulations, doing }
    results = yield { orders: step.value.orders, progress }
  }
}

function reportedBreaking(search: ServiceSearch, chosen: Found, searches: readonly ServiceSearch[]): Search<RecommendProgress, Breaking> {
  const total = searches.reduce((sum, s) => sum + s.candidates, 0)
  const simulations = searches.reduce((sum, s) => sum + s.simulations, 0)
  const doing = `${search.service.name}: how much more load it bears`
  return breakingLoad(search.service.name, chosen, { settled: total, total, simulations, doing })
}

function serviceAnswer(plan: Plan, search: ServiceSearch, chosen: Found | undefined, breaking: Breaking | null, load: Load): ServiceAnswer {
  const { service } = search
  return {
    service: service.name,
    chosen: chosen ? choice(plan, chosen) : null,
    runnersUp: search.ranked.filter((f) => f !== chosen).map((f) => choice(plan, f)),
    passedOver: chosen && search.ranked[0] !== chosen ? passedOver(plan, search.ranked[0]) : null,
    rejected: search.rejected.map(({ candidate, rejection }) => ({
      ...optionName(candidate), rejection, reason: rejectionSentence(rejection, plan),
    })),
    candidates: search.candidates,
    simulations: search.simulations,
    breaking,
    classes: chosen ? classSummaries(plan, service, chosen, load) : [],
  }
}

function passedOver(plan: Plan, { candidate, machines, perHour }: Found): string {
  const { name, stock } = candidate.machine
  const month = price(perHour * HOURS_PER_MONTH, plan.currency)
  return `${machines} × ${name} would do for ${month} a month, but its stock of ${stock} serves the plan better elsewhere`
}

function classSummaries(plan: Plan, service: Service, chosen: Found, load: Load) {
  const trial = tryOut({ plan, service, profile: chosen.profile, replicas: chosen.replicas, requests: load.of(service, 0), toTheEnd: true })
  if (trial.kind !== 'complete') return []
  return plan.classes.flatMap((c, i) => (c.service === service.name ? [summarise(plan, trial.record, i)] : []))
}

export function optionName(candidate: Candidate): OptionName {
  const { machine, variant, devices, sequences } = candidate
  return { machine: machine.name, provider: machine.provider, region: machine.region, variant: variant.name, devices, sequences }
}

function choice(plan: Plan, found: Found): Choice {
  return {
    ...optionName(found.candidate),
    model: found.candidate.model.name,
    machines: found.machines,
    replicas: found.replicas,
    profileSource: found.profile.source,
    money: money(found.perHour, plan.horizon.seconds, found.finished),
    targets: found.targets.map(targetAnswer),
  }
}

export function targetAnswer({ className, target, certainty, interval }: TargetOutcome): TargetAnswer {
  return { className, target, certainty, interval: interval ?? null, headRoom: headRoom(interval?.mean, target) ?? null }
}
