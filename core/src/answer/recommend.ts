import { leastOfGroup } from '../cost/bill.ts'
import { HOURS_PER_MONTH, money } from '../cost/money.ts'
import { planMoney, type SharedCommitment } from '../cost/planMoney.ts'
import { purchasesOf } from '../cost/purchase.ts'
import { relianceOf } from './reliance.ts'
import { shortFleetWords } from '../explain/fleetWords.ts'
import { rejectionSentence } from '../explain/rejectionSentence.ts'
import { interval95 } from '../measure/interval.ts'
import { summarise, type ClassSummary } from '../measure/summary.ts'
import { headRoom } from '../measure/targets.ts'
import type { Plan, Service } from '../plan/schema.ts'
import { obtainable } from '../plan/machineSchema.ts'
import { price } from '../units/price.ts'
import { optionName } from './optionName.ts'
import { CORE_VERSION } from '../version.ts'
import { ANSWER_FORMAT, ANSWER_VERSION, type Answer, type Choice, type ServiceAnswer, type TargetAnswer } from './answer.ts'
import { withFigureOfNearest } from './nearestCheaper.ts'
import { bindingPart, type BindingPart } from '../search/binding.ts'
import { breakingLoad, type Breaking } from '../search/breaking.ts'
import type { Candidate } from '../candidate/candidate.ts'
import { decided } from '../search/decide.ts'
import type { Found, TargetOutcome } from '../search/found.ts'
import { chooseTogether } from '../search/joint.ts'
import type { SharedPlaces } from '../search/sharedPlaces.ts'
import type { Load } from '../search/load.ts'
import type { Rejection } from '../search/rejection.ts'
import { bestOf, type BestSoFar, type SearchProgress } from '../search/searchProgress.ts'
import { proveService, type ServiceSearch } from '../search/searchService.ts'
import type { Steps } from '../search/order.ts'
import { together } from '../search/together.ts'
import { run } from '../run/run.ts'

/** Progress over all services of a plan. */
export interface RecommendProgress {
  settled: number
  total: number
  simulations: number
  /** what is being worked on, as a person would say it */
  doing: string
  soFar: SoFar
  /** said twice: when it is proved, with nothing beside it and without summaries of its classes, and then with the next best, but for the load that it bears */
  answer?: Answer
}

/** The cheapest that is known to hold while a search goes on, and below what nothing can. */
export interface SoFar {
  services: (BestSoFar & { service: string })[]
  /** of all services together; null while one of them has nothing that holds */
  perHour: number | null
  /** nothing that costs less can hold every target; null when one of them holds with nothing */
  leastPerHour: number | null
  /** services may commit to machines together: what they cost and what bounds them is of each by itself */
  apart: boolean
  /** nothing cheaper holds for any service */
  proved: boolean
}

/** The cheapest configuration of every service that states a search (see `drive.ts` for how to run it). */
export function* recommend(plan: Plan, load: Load): Steps<RecommendProgress, Answer> {
  const services = plan.services.filter((s) => s.search)
  const beside: Beside = { fixedPerHour: planMoney(plan, 0).perHour, mayShare: mayShare(plan, services) }
  const proved = yield* together(services.map((s) => proveService(plan, s, load)), wholeProgress(services, beside))
  const first = yield* chosenOf<RecommendProgress>(plan, proved.map((p) => p.found))
  // Where the proved ones can not be had together, others have to be known before there is an answer. What takes a run comes later.
  const early = first.conflict ? {} : { answer: wholeAnswer(plan, answersOf(plan, first, load, () => []), first) }
  const searched = yield* together(proved.map((p) => p.searcher.rankOthers()), sayingOnce(wholeProgress(services, beside, proved.map(({ found }, i) => provedProgress(found, first.chosen[i]))), early))
  const ranked = yield* chosenOf<RecommendProgress>(plan, searched)
  const whole = yield* toldApart(ranked, load, () => settledProgress(ranked, beside, 'what tells the answer from its rivals'))
  const { searches, chosen } = whole
  const unbroken = answersOf(plan, whole, load, (service, found) => classSummaries(plan, service, found, load))
  const figured = yield* together(unbroken.map((s, i) => withFigureOfNearest(plan, services[i], s)), sayingOnce(() => settledProgress(whole, beside, 'by how much the nearest that costs less misses'), { answer: wholeAnswer(plan, unbroken, whole) }))
  const borne = yield* together(chosen.flatMap((found, i) => (found ? [breakingLoad(plan, services[i].name, found, searches[i].ranked.filter((f) => f !== found))] : [])), () => settledProgress(whole, beside, 'how much more load the answer bears'))
  return wholeAnswer(plan, figured.map((s, i) => {
    const found = chosen[i]
    const breaking = found && borne.shift()
    return { ...s, breaking: breaking ? { ...breaking, binding: bindingOf(plan, services[i], found, breaking, load) } : null }
  }), whole)
}

/** What a plan costs beside each of its services by itself. */
interface Beside {
  fixedPerHour: number
  /** services may commit to machines together, so that the bounds of each by itself do not bound all together */
  mayShare: boolean
}

/** Whether several services search for machines that are committed to, of one offer. */
function mayShare(plan: Plan, services: readonly Service[]): boolean {
  return plan.machines.some((m) => services.filter((s) => purchasesOf(s, m).some((p) => p.kind === 'committed' || p.kind === 'mixed') && m.committedPerHour !== undefined && (s.search?.machines?.includes(m.name) ?? true)).length > 1)
}

/** What was found of every service, and what is chosen of it. */
interface Whole {
  searches: readonly ServiceSearch[]
  chosen: (Found | undefined)[]
  /** what they commit to together */
  shared: readonly SharedPlaces[]
  /** the ranked ones can not be had together */
  conflict: boolean
}

/** Progress once every option is settled. */
function settledProgress({ searches, chosen }: Whole, beside: Beside, doing: string): RecommendProgress {
  return {
    soFar: soFarOf(searches.map((s, i) => provedProgress(s, chosen[i])), beside), doing,
    settled: sum(searches, (s) => s.candidates), total: sum(searches, (s) => s.candidates), simulations: sum(searches, (s) => s.simulations),
  }
}

function* chosenOf<P>(plan: Plan, searches: readonly ServiceSearch[]): Steps<P, Whole> {
  const choice = yield* chooseTogether<P>(searches.map((s) => s.ranked), plan.horizon.seconds)
  return { searches, chosen: searches.map((search, i) => choice?.chosen.at(i) ?? search.ranked.at(0)), shared: choice?.shared ?? [], conflict: choice === undefined }
}

type ClassesOf = (service: Service, chosen: Found) => ClassSummary[]

/** The same with as many draws as it takes to tell each chosen one from its rivals, as far as draws of its load differ. */
function* toldApart({ searches, chosen, ...rest }: Whole, load: Load, told: () => RecommendProgress): Steps<RecommendProgress, Whole> {
  const apart = yield* together(searches.map((search, i) => toldApartOf(search, chosen[i], load)), told)
  return { searches: apart.map((a) => a.search), chosen: apart.map((a) => a.chosen), ...rest }
}

function* toldApartOf(search: ServiceSearch, chosen: Found | undefined, load: Load): Steps<undefined, { search: ServiceSearch; chosen: Found | undefined }> {
  if (!chosen || load.repetitions(search.service) === 1) return { search, chosen }
  const rivals = search.ranked.filter((f) => f !== chosen)
  const apart = yield* decided(search.service.name, chosen, rivals)
  return { chosen: apart.chosen, search: { ...search, ranked: search.ranked.map((f) => (f === chosen ? apart.chosen : apart.rivals[rivals.indexOf(f)])) } }
}

function answersOf(plan: Plan, { searches, chosen, shared }: Whole, load: Load, classesOf: ClassesOf): ServiceAnswer[] {
  return searches.map((search, i) => serviceAnswer(plan, search, chosen[i], load, classesOf, shared.some(({ options }) => options.some((o) => o.candidate === chosen[i]?.candidate))))
}

/** Says something beside the first progress only. */
function sayingOnce<P>(told: (progress: readonly (P | undefined)[]) => RecommendProgress, more: Pick<RecommendProgress, 'answer'>): (progress: readonly (P | undefined)[]) => RecommendProgress {
  let once = more
  return (progress) => {
    const said = { ...told(progress), ...once }
    once = {}
    return said
  }
}

function bindingOf(plan: Plan, service: Service, found: Found, { breaksAt }: Breaking, load: Load): BindingPart | null {
  return breaksAt === null ? null : (bindingPart(plan, service, found, load.multiplied(service, breaksAt)) ?? null)
}

const sum = <X>(list: readonly X[], value: (x: X) => number) => list.reduce((total, x) => total + value(x), 0)

/** Adds up the progress of all services; those that have not begun count with nothing, those that are done with the last that they said. */
function wholeProgress(services: readonly Service[], beside: Beside, begin: readonly SearchProgress[] = []): (progress: readonly (SearchProgress | undefined)[]) => RecommendProgress {
  const last = services.map((s, i): SearchProgress => begin.at(i) ?? { service: s.name, settled: 0, total: 0, simulations: 0, best: undefined, leastPerHour: null })
  return (progress) => {
    progress.forEach((p, i) => (last[i] = p ?? { ...last[i], settled: last[i].total }))
    const soFar = soFarOf(last, beside)
    return {
      settled: sum(last, (p) => p.settled), total: sum(last, (p) => p.total), simulations: sum(last, (p) => p.simulations), soFar,
      doing: soFar.proved ? 'nothing cheaper holds; looking for the next best' : soFar.services.length > 0 ? `best so far ${soFar.services.map((b) => `${shortFleetWords({ ...b, upTo: b.policy !== null })} for ${b.service}`).join(', ')}` : 'nothing holds yet',
    }
  }
}

/** What a service says of itself when its cheapest is proved. */
function provedProgress({ service, candidates, simulations }: ServiceSearch, found: Found | undefined): SearchProgress {
  return { service: service.name, settled: candidates, total: candidates, simulations, best: found && bestOf(found.candidate, found.groups, found.perHour, 'proved'), leastPerHour: found?.perHour ?? null }
}

function soFarOf(last: readonly SearchProgress[], { fixedPerHour, mayShare }: Beside): SoFar {
  const services = last.flatMap((p) => (p.best ? [{ service: p.service, ...p.best }] : []))
  const whole = last.every((p) => p.leastPerHour !== null)
  return {
    services,
    perHour: services.length === last.length ? fixedPerHour + sum(services, (b) => b.perHour) : null,
    apart: mayShare,
    leastPerHour: whole ? fixedPerHour + sum(last, (p) => p.leastPerHour ?? 0) : null,
    proved: services.length === last.length && services.every((b) => b.known === 'proved'),
  }
}

/** What of a machine is committed to together, as it is told. */
function sharedMoney({ machine, options, committedMachines, savedPerHour }: SharedPlaces, { searches, chosen }: Whole): SharedCommitment {
  const keys = new Set(options.map((o) => o.candidate))
  return {
    machine, committedMachines, savedPerMonth: savedPerHour * HOURS_PER_MONTH,
    services: searches.flatMap((s, i) => (chosen[i] && keys.has(chosen[i].candidate) ? [s.service.name] : [])),
    apartMachines: sum(options, (o) => o.committedGroups * o.candidate.group.machines),
  }
}

function wholeAnswer(plan: Plan, services: ServiceAnswer[], whole: Whole): Answer {
  const { shared, conflict } = whole
  const { perHour, perMonth, ...rest } = planMoney(plan, sum(services, (s) => s.chosen?.money.perHour ?? 0), shared.map((s) => sharedMoney(s, whole)))
  return {
    format: ANSWER_FORMAT, version: ANSWER_VERSION, coreVersion: CORE_VERSION, plan, services, perHour, perMonth, money: rest, currency: plan.currency,
    meets: !conflict && (rest.budget?.left ?? 0) >= 0 && services.length > 0 && services.every((s) => s.chosen !== null),
    conflict: conflict ? 'The best options of several services want the same machines, more than the stock has. Raise the stock or let one service search other machines.' : null,
  }
}

function serviceAnswer(plan: Plan, search: ServiceSearch, chosen: Found | undefined, load: Load, classesOf: ClassesOf, together: boolean): ServiceAnswer {
  const { service } = search
  return {
    service: service.name,
    chosen: chosen ? choice(plan, service, chosen, load) : null,
    runnersUp: search.ranked.filter((f) => f !== chosen).map((f) => choice(plan, service, f, load, chosen)),
    passedOver: chosen && search.ranked[0] !== chosen ? passedOver(plan, search.ranked[0], together) : null,
    rejected: search.rejected.map(({ candidate, rejection, leastStrain }) => ({
      ...optionName(candidate), rejection, leastStrain, leastPerHour: leastPerHour(candidate, rejection), reason: rejectionSentence(rejection, plan),
    })),
    candidates: search.candidates,
    simulations: search.simulations,
    breaking: null,
    classes: chosen ? classesOf(service, chosen) : [],
  }
}

function leastPerHour(candidate: Candidate, rejection: Rejection): number | null {
  if ('leastPerHour' in rejection) return rejection.leastPerHour
  if ('perHour' in rejection) return rejection.perHour
  const groups = 'machinesNeeded' in rejection ? rejection.machinesNeeded / candidate.group.machines : 1
  return groups * leastOfGroup(candidate) || null
}

function passedOver(plan: Plan, { candidate, machines, perHour }: Found, together: boolean): string {
  const { name } = candidate.machine
  const has = obtainable(candidate.machine)
  const month = price(perHour * HOURS_PER_MONTH, plan.currency)
  const why = together ? 'what services commit to together makes another cheaper for the plan' : `the ${has} that can be had serve the plan better elsewhere`
  return `${machines} × ${name} would do for ${month} a month, but ${why}`
}

function classSummaries(plan: Plan, service: Service, chosen: Found, load: Load): ClassSummary[] {
  const { candidate, groups } = chosen
  const { record } = run(plan, { service: candidate.service, candidate, groups }, load.of(service, 0), { toTheEnd: true })
  return plan.classes.flatMap((c, i) => (c.service === service.name ? [summarise(plan, record, i)] : []))
}

function choice(plan: Plan, service: Service, found: Found, load: Load, than?: Found): Choice {
  return {
    ...optionName(found.candidate),
    model: found.candidate.model.name,
    machines: found.machines,
    replicas: found.replicas,
    meanMachines: found.meanMachines,
    mostMachines: found.mostMachines,
    committedMachines: found.committedGroups * found.candidate.group.machines,
    uncommittedPerMonth: Number.isFinite(found.uncommittedPerHour) ? found.uncommittedPerHour * HOURS_PER_MONTH : null,
    profileSource: found.profile.source,
    reliance: relianceOf(found.candidate, found.profile, load.of(service, 0)),
    money: money(found.perHour, plan.horizon.seconds, found.finished),
    targets: found.targets.map(targetAnswer),
    dearer: (than && interval95(found.perHourByDraw.map((v, i) => (v - than.perHourByDraw[i]) * HOURS_PER_MONTH))) ?? null,
  }
}

export function targetAnswer({ className, target, certainty, interval }: TargetOutcome): TargetAnswer {
  return { className, target, certainty, interval: interval ?? null, headRoom: headRoom(interval?.mean, target) ?? null }
}
