import { HOURS_PER_MONTH } from '../cost/money.ts'
import { planMoney, type SharedCommitment } from '../cost/planMoney.ts'
import type { Plan } from '../plan/schema.ts'
import { isKept } from '../search/found.ts'
import type { SharedPlaces } from '../search/sharedPlaces.ts'
import { CORE_VERSION } from '../version.ts'
import { ANSWER_FORMAT, ANSWER_VERSION, type Answer, type ServiceAnswer } from './answer.ts'
import { isStopped } from './guardWords.ts'
import { sum } from '../units/sum.ts'
import type { Whole } from './whole.ts'

export function wholeAnswer(plan: Plan, services: ServiceAnswer[], whole: Whole): Answer {
  const { shared, conflict } = whole
  const { perHour, perMonth, ...rest } = planMoney(
    plan,
    sum(services, (s) => s.chosen?.money.perHour ?? 0),
    shared.map((s) => sharedMoney(s, whole)),
  )
  return {
    format: ANSWER_FORMAT,
    version: ANSWER_VERSION,
    coreVersion: CORE_VERSION,
    plan,
    services,
    perHour,
    perMonth,
    money: rest,
    currency: plan.currency,
    meets: !conflict && (rest.budget?.left ?? 0) >= 0 && services.length > 0 && services.every(holds),
    conflict: conflict
      ? 'The best options of several services want the same machines, more than the stock has. Raise the stock or let one service search other machines.'
      : null,
  }
}

/** Everything that is promised is kept, and its guard turns nobody of the plan's own away. */
export const holds = ({ chosen, guard }: ServiceAnswer): boolean => chosen !== null && isKept(chosen) && !isStopped(guard)

/** What of a machine is committed to together, as it is told. */
function sharedMoney({ machine, options, committedMachines, savedPerHour }: SharedPlaces, { searches, chosen }: Whole): SharedCommitment {
  const keys = new Set(options.map((o) => o.candidate))
  return {
    machine,
    committedMachines,
    savedPerMonth: savedPerHour * HOURS_PER_MONTH,
    services: searches.flatMap((s, i) => (chosen[i] && keys.has(chosen[i].candidate) ? [s.service.name] : [])),
    apartMachines: sum(options, (o) => o.committedGroups * o.candidate.group.machines),
  }
}
