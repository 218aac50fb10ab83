import { costPerHour, fleetOf, type LimitedBy } from '../candidate/candidate.ts'
import { HOURS_PER_MONTH } from '../cost/money.ts'
import { isRented } from '../cost/purchase.ts'
import { LIMIT_WORDS } from '../explain/limitWords.ts'
import type { Plan } from '../plan/schema.ts'
import { altered } from '../run/alteration.ts'
import { run } from '../run/run.ts'
import { wholeRun } from '../run/wholeRun.ts'
import type { RunSpec } from '../run/spec.ts'
import type { Load } from '../search/load.ts'
import { allHold, readings } from '../measure/placedTargets.ts'
import { grouped } from '../units/number.ts'
import { price } from '../units/price.ts'
import type { DetailTable } from './detailTable.ts'

/** How many copies keep every promise when so much more comes, on the first draw; fixed numbers of the same place. */
export interface CopiesNeeded {
  multiple: number
  /** null where even all that can be had are not enough */
  needed: { replicas: number; machines: number; perMonth: number } | null
}

export interface CopiesReport {
  of: number
  rows: CopiesNeeded[]
  /** the most that can be had, and what keeps it from more */
  most: { machines: number; limitedBy: LimitedBy }
}

/** Multiples of the load that people ask for. */
const MULTIPLES = [1, 2, 5, 10]

/**
 * The fewest copies that hold at each multiple of the load: growing from as many as the last multiple asks for in proportion, then halved
 * between what misses and what holds. Yields after each; nothing for calls, which bring instances of their own.
 */
export function* copiesNeeded(plan: Plan, spec: RunSpec, load: Load): Generator<CopiesReport, CopiesReport | undefined> {
  if (!isRented(spec.candidate.purchase)) return undefined
  const { replicas } = spec.candidate.group
  const fixed = spec.candidate.policy ? altered(plan, spec, { kind: 'fixed', groups: 1, replicas }) : spec
  if (!fixed) return undefined
  // Machines are used whole, whatever number is stated.
  const candidate = { ...fixed.candidate, unusedReplicas: 0 }
  const { maxGroups, limitedBy } = candidate
  const report: CopiesReport = { of: MULTIPLES.length, rows: [], most: { machines: fleetOf(candidate, maxGroups).machines, limitedBy } }
  let [known, at] = [1, 1]
  for (const multiple of MULTIPLES) {
    const requests = load.multiplied(fixed.service, multiple)
    const holds = (groups: number) => {
      const ran = run(plan, { ...fixed, candidate, groups }, requests)
      return ran.kind === 'complete' && allHold(plan, fixed.service, readings(plan, fixed.service, ran.record))
    }
    const groups = fewest(holds, Math.ceil((known * multiple) / at), maxGroups)
    if (groups !== undefined) [known, at] = [groups, multiple]
    const perHour = (n: number) =>
      candidate.paysByRun ? wholeRun(plan, { ...fixed, candidate, groups: n }, requests).perHour : costPerHour(candidate, n)
    const needed = groups === undefined ? null : { ...fleetOf(candidate, groups), perMonth: perHour(groups) * HOURS_PER_MONTH }
    report.rows = [...report.rows, { multiple, needed }]
    yield { ...report }
    if (groups === undefined) break // more load does not need fewer
  }
  return report
}

/** The fewest that hold, up to so many; undefined when not even those do. More never do worse. */
function fewest(holds: (groups: number) => boolean, guess: number, most: number): number | undefined {
  let low = 0 // the most that is known to miss
  let high = Math.min(most, Math.max(1, guess))
  while (!holds(high)) {
    if (high >= most) return undefined
    low = high
    high = Math.min(most, Math.max(high + 1, Math.ceil(high * 1.5)))
  }
  while (high - low > 1) {
    const middle = (low + high) >> 1
    if (holds(middle)) high = middle
    else low = middle
  }
  return high
}

export function copiesTable({ rows, most }: CopiesReport, currency: string): DetailTable {
  return {
    title: `copies that keep every promise when more comes (first draw; ${grouped(most.machines, 0)} machines can be had, by the ${LIMIT_WORDS[most.limitedBy].name})`,
    header: ['times the load', 'copies', 'machines', 'a month'],
    rows: rows.map(({ multiple, needed }) => [
      String(multiple),
      ...(needed
        ? [grouped(needed.replicas, 0), grouped(needed.machines, 0), price(needed.perMonth, currency)]
        : ['more than can be had', '–', '–']),
    ]),
  }
}
