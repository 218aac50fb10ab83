import type { Candidate } from '../candidate/candidate.ts'
import { leastOfGroup } from '../cost/bill.ts'
import { HOURS_PER_MONTH, money } from '../cost/money.ts'
import { rejectionSentence } from '../explain/rejectionSentence.ts'
import { interval95 } from '../measure/interval.ts'
import { callersMet } from '../measure/callersMet.ts'
import { summarise } from '../measure/summary.ts'
import { headRoom } from '../measure/targets.ts'
import { obtainable } from '../plan/machineSchema.ts'
import type { Plan, Service } from '../plan/schema.ts'
import { coldTimeOf } from '../run/coldTimeOf.ts'
import { run } from '../run/run.ts'
import type { Found, TargetOutcome } from '../search/found.ts'
import type { Load } from '../search/load.ts'
import type { Rejection } from '../search/rejection.ts'
import type { ServiceSearch } from '../search/ranked.ts'
import { price } from '../units/price.ts'
import type { Choice, ServiceAnswer, TargetAnswer } from './answer.ts'
import { guardOf } from './guard.ts'
import { optionName } from '../candidate/optionName.ts'
import { relianceOf } from './reliance.ts'
import type { Whole } from './whole.ts'

/** What its first draw says of the classes of a service. */
type ClassesOf = (service: Service, chosen: Found) => Pick<ServiceAnswer, 'classes' | 'met' | 'guard'>

export function answersOf(plan: Plan, { searches, chosen, shared }: Whole, load: Load, classesOf: ClassesOf): ServiceAnswer[] {
  return searches.map((search, i) =>
    serviceAnswer(
      plan,
      search,
      chosen[i],
      load,
      classesOf,
      shared.some(({ options }) => options.some((o) => o.candidate === chosen[i]?.candidate)),
    ),
  )
}

function serviceAnswer(
  plan: Plan,
  search: ServiceSearch,
  chosen: Found | undefined,
  load: Load,
  classesOf: ClassesOf,
  together: boolean,
): ServiceAnswer {
  const { service } = search
  return {
    service: service.name,
    chosen: chosen ? choice(plan, service, chosen, load) : null,
    runnersUp: search.ranked.filter((f) => f !== chosen).map((f) => choice(plan, service, f, load, chosen)),
    passedOver: chosen && search.ranked[0] !== chosen ? passedOver(plan, search.ranked[0], together) : null,
    rejected: search.rejected.map(({ candidate, rejection, leastStrain }) => ({
      ...optionName(candidate),
      rejection,
      leastStrain,
      leastPerHour: leastPerHour(candidate, rejection),
      reason: rejectionSentence(rejection, plan),
    })),
    candidates: search.candidates,
    simulations: search.simulations,
    breaking: null,
    ...(chosen ? classesOf(service, chosen) : { classes: [], met: [] }),
  }
}

export function leastPerHour(candidate: Candidate, rejection: Rejection): number | null {
  if ('leastPerHour' in rejection) return rejection.leastPerHour
  if ('perHour' in rejection) return rejection.perHour
  const groups = 'machinesNeeded' in rejection ? rejection.machinesNeeded / candidate.group.machines : 1
  return groups * leastOfGroup(candidate) || null
}

function passedOver(plan: Plan, { candidate, machines, perHour }: Found, together: boolean): string {
  const { name } = candidate.machine
  const has = obtainable(candidate.machine)
  const month = price(perHour * HOURS_PER_MONTH, plan.currency)
  const why = together
    ? 'what services commit to together makes another cheaper for the plan'
    : `the ${has} that can be had serve the plan better elsewhere`
  return `${machines} × ${name} would do for ${month} a month, but ${why}`
}

export function classSummaries(plan: Plan, service: Service, { candidate, groups }: Found, load: Load): ReturnType<ClassesOf> {
  const spec = { service: candidate.service, candidate, groups }
  const ran = run(plan, spec, load.of(service, 0), { toTheEnd: true })
  const cold = coldTimeOf(plan, spec, ran)
  const its = plan.classes.flatMap((c, i) => (c.service === service.name ? [i] : []))
  const guard = guardOf(plan, spec, load)
  return {
    ...(guard && { guard }),
    classes: its.map((i) => summarise(plan, ran.record, i)),
    met: its.map((i) => callersMet(plan, ran.record, cold, i, plan.classes[i].name)),
  }
}

export function choice(plan: Plan, service: Service, found: Found, load: Load, than?: Found): Choice {
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
    ...(found.worlds && { worlds: found.worlds }),
    dearer: (than && interval95(found.perHourByDraw.map((v, i) => (v - than.perHourByDraw[i]) * HOURS_PER_MONTH))) ?? null,
  }
}

export function targetAnswer({ className, target, certainty, interval }: TargetOutcome): TargetAnswer {
  return { className, target, certainty, interval: interval ?? null, headRoom: headRoom(interval?.mean, target) ?? null }
}
