import { ln } from '../arithmetic/sameBits.ts'
import { fleetWords } from '../explain/fleetWords.ts'
import { isByCall, purchaseKey, type Purchase } from '../cost/purchase.ts'
import { isSearched } from '../plan/searched.ts'
import type { Plan } from '../plan/schema.ts'
import { isKept } from '../search/found.ts'
import { isStopped } from './guardWords.ts'
import { percent } from '../units/number.ts'
import type { Answer, Choice, ServiceAnswer, TargetAnswer } from './answer.ts'

/** What the verdict line says of an answer, as data. */
export interface Verdict {
  meets: boolean
  /** machines to rent, over all services */
  shopping: Shopping[]
  tightest: TargetAnswer | null
  /** smallest multiple of the load that breaks any service; null when none was found to */
  breaksAt: number | null
  breaksClass: string | null
  /** independent runs behind every interval; 1 says that there is no interval */
  runs: number
  /** services that nothing serves */
  unserved: string[]
  /** services that are run as stated, and do not keep their promises so */
  missing: string[]
  /** services whose guard turns the plan's own callers away */
  stopped: string[]
  /** nothing was searched: all of it is run as stated */
  stated: boolean
}

/** Whether a budget is all that is missing. */
export function isOverBudget(answer: Answer): boolean {
  const { unserved, missing, stopped } = verdict(answer)
  return unserved.length + missing.length + stopped.length === 0 && answer.conflict === null && (answer.money.budget?.left ?? 0) < 0
}

/** Machines of one kind that are paid in one way; `upTo` when some of them come and go, with the mean of what is there. */
export interface Shopping {
  machine: string
  /** which services they are for */
  services: string[]
  machines: number
  upTo: boolean
  purchase: Purchase
  meanMachines: number
}

export function verdict(answer: Answer): Verdict {
  const chosen = answer.services.flatMap((s) => (s.chosen ? [s.chosen] : []))
  const targets = chosen.flatMap((c) => c.targets)
  const breaking = answer.services.flatMap((s) => (s.breaking?.breaksAt ? [s.breaking] : []))
  const first = breaking.sort((a, b) => (a.breaksAt ?? 0) - (b.breaksAt ?? 0))[0]
  return {
    meets: answer.meets,
    shopping: shopping(answer.services),
    tightest: tightestOf(targets),
    breaksAt: first?.breaksAt ?? null,
    breaksClass: first?.className ?? null,
    runs: targets.reduce((least, t) => Math.min(least, t.interval?.runs ?? Infinity), Infinity),
    unserved: answer.services.filter((s) => !s.chosen).map((s) => s.service),
    missing: answer.services.filter((s) => s.chosen && !isKept(s.chosen)).map((s) => s.service),
    stopped: answer.services.filter((s) => isStopped(s.guard)).map((s) => s.service),
    stated: answer.services.every((s) => !isSearched(answer.plan, s.service)),
  }
}

/** The target with the least head-room. */
export function tightestOf(targets: readonly TargetAnswer[]): TargetAnswer | null {
  return targets.reduce<TargetAnswer | null>(
    (best, t) => (t.headRoom !== null && (best?.headRoom ?? Infinity) > t.headRoom ? t : best),
    null,
  )
}

/** Machines by name and way of paying, in the order of the services. */
export function shopping(services: readonly Pick<ServiceAnswer, 'service' | 'chosen'>[]): Shopping[] {
  const total = new Map<string, Shopping>()
  for (const { service, chosen: c } of services) {
    if (!c) continue
    const key = JSON.stringify([c.machine, purchaseKey(c.purchase)])
    const known = total.get(key) ?? { machine: c.machine, purchase: c.purchase, services: [], machines: 0, upTo: false, meanMachines: 0 }
    total.set(key, {
      ...known,
      services: [...known.services, service],
      machines: known.machines + c.machines,
      upTo: known.upTo || c.policy !== null || isByCall(c.purchase),
      meanMachines: known.meanMachines + c.meanMachines,
    })
  }
  return [...total.values()]
}

/** Whether draws of the load leave open which of two costs less, or both cost the same. */
export function isTie({ dearer }: Choice): boolean {
  return dearer !== null && dearer.low <= 1e-9 && dearer.high >= -1e-9
}

/**
 * What further draws say of what an option costs more than the chosen one; empty where it is as plain as the means.
 *
 * @example 'a tie over 12 draws'
 */
export function tieWords(choice: Choice): string {
  const { dearer } = choice
  if (isTie(choice)) return (dearer?.low ?? 0) < (dearer?.high ?? 0) ? `a tie over ${dearer?.runs} draws` : 'a tie'
  return dearer !== null && dearer.high < 0 ? `less over ${dearer.runs} draws` : ''
}

/** Months until a load that grows so much a month has reached a multiple. @example monthsUntil(1.2, 0.05) // 3.7… */
export function monthsUntil(multiple: number, growthPerMonth: number): number {
  return ln(multiple) / ln(1 + growthPerMonth)
}

/** When growth makes a service change, and to what: a sentence; undefined when the plan expects none, or nothing broke it. */
export function growthSentence({ expectedGrowthPerMonth: growth }: Plan, { breaking, runnersUp }: ServiceAnswer): string | undefined {
  if (growth === undefined || !breaking || breaking.breaksAt === null) return undefined
  const months = monthsUntil(breaking.holdsAt, growth)
  const when = months < 1 ? 'within a month' : `after ${Math.floor(months)} ${Math.floor(months) === 1 ? 'month' : 'months'}`
  const next = breaking.next === null ? undefined : runnersUp[breaking.next]
  return `With ${percent(growth)} growth a month it has to change ${when}${next ? `, to ${fleetWords(next)} with ${next.variant}` : ', to something that is not among the next best here'}`
}
