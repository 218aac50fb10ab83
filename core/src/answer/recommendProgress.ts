import { purchasesOf } from '../cost/purchase.ts'
import { shortFleetWords } from '../explain/fleetWords.ts'
import type { Plan, Service } from '../plan/schema.ts'
import { PURCHASES } from '../plan/ways.ts'
import type { Found } from '../search/found.ts'
import { bestOf, type BestSoFar, type SearchProgress } from '../search/searchProgress.ts'
import type { ServiceSearch } from '../search/ranked.ts'
import { sum } from '../units/sum.ts'
import type { Answer } from './answer.ts'
import type { Whole } from './whole.ts'

/** Progress over all services of a plan. */
export interface RecommendProgress {
  settled: number
  total: number
  simulations: number
  /** what is being worked on, as a person would say it */
  doing: string
  soFar: SoFar
  /**
   * said twice: when it is proved, with nothing beside it and without summaries of its classes, and then with the next best, but for the
   * load that it bears
   */
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

/** What a plan costs beside each of its services by itself. */
export interface Beside {
  fixedPerHour: number
  /** services may commit to machines together, so that the bounds of each by itself do not bound all together */
  mayShare: boolean
}

/** Whether several services search for machines that are committed to, of one offer. */
export function mayShare(plan: Plan, services: readonly Service[]): boolean {
  return plan.machines.some(
    (m) =>
      services.filter(
        (s) =>
          purchasesOf(s, m).some((p) => PURCHASES[p.kind].mayCommit) &&
          m.committedPerHour !== undefined &&
          (s.search?.machines?.includes(m.name) ?? true),
      ).length > 1,
  )
}

/** Progress once every option is settled. */
export function settledProgress({ searches, chosen }: Whole, beside: Beside, doing: string): RecommendProgress {
  return {
    soFar: soFarOf(
      searches.map((s, i) => provedProgress(s, chosen[i])),
      beside,
    ),
    doing,
    settled: sum(searches, (s) => s.candidates),
    total: sum(searches, (s) => s.candidates),
    simulations: sum(searches, (s) => s.simulations),
  }
}

/** Adds up the progress of all services; those that have not begun count with nothing, those that are done with the last that they said. */
export function wholeProgress(
  services: readonly Service[],
  beside: Beside,
  begin: readonly SearchProgress[] = [],
): (progress: readonly (SearchProgress | undefined)[]) => RecommendProgress {
  const last = services.map(
    (s, i): SearchProgress => begin.at(i) ?? { service: s.name, settled: 0, total: 0, simulations: 0, best: undefined, leastPerHour: null },
  )
  return (progress) => {
    progress.forEach((p, i) => (last[i] = p ?? { ...last[i], settled: last[i].total }))
    const soFar = soFarOf(last, beside)
    return {
      settled: sum(last, (p) => p.settled),
      total: sum(last, (p) => p.total),
      simulations: sum(last, (p) => p.simulations),
      soFar,
      doing: soFar.proved
        ? soFar.services.every((b) => b.known === 'stated')
          ? 'run as stated'
          : 'nothing cheaper holds; looking for the next best'
        : soFar.services.length > 0
          ? `best so far ${soFar.services.map((b) => `${shortFleetWords({ ...b, upTo: b.policy !== null })} for ${b.service}`).join(', ')}`
          : 'nothing holds yet',
    }
  }
}

/** What a service says of itself when its cheapest is proved. */
export function provedProgress({ service, candidates, simulations }: ServiceSearch, found: Found | undefined): SearchProgress {
  return {
    service: service.name,
    settled: candidates,
    total: candidates,
    simulations,
    best: found && bestOf(found.candidate, found.groups, found.perHour, service.search ? 'proved' : 'stated'),
    leastPerHour: found?.perHour ?? null,
  }
}

function soFarOf(last: readonly SearchProgress[], { fixedPerHour, mayShare }: Beside): SoFar {
  const services = last.flatMap((p) => (p.best ? [{ service: p.service, ...p.best }] : []))
  const whole = last.every((p) => p.leastPerHour !== null)
  return {
    services,
    perHour: services.length === last.length ? fixedPerHour + sum(services, (b) => b.perHour) : null,
    apart: mayShare,
    leastPerHour: whole ? fixedPerHour + sum(last, (p) => p.leastPerHour ?? 0) : null,
    proved: services.length === last.length && services.every((b) => b.known === 'proved' || b.known === 'stated'),
  }
}

/** Says something beside the first progress only. */
export function sayingOnce<P>(
  told: (progress: readonly (P | undefined)[]) => RecommendProgress,
  more: Pick<RecommendProgress, 'answer'>,
): (progress: readonly (P | undefined)[]) => RecommendProgress {
  let once = more
  return (progress) => {
    const said = { ...told(progress), ...once }
    once = {}
    return said
  }
}
