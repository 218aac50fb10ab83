import type { Sized } from '../../answer/levers.ts'
import { worlds, type WorldsReport } from '../../answer/worlds.ts'
import { costPerHour, fleetOf, type Candidate } from '../../candidate/candidate.ts'
import { HOURS_PER_MONTH } from '../../cost/money.ts'
import type { Plan } from '../../plan/schema.ts'
import { RandomStream } from '../../random/stream.ts'
import { specOf } from '../../run/specOf.ts'
import type { Load } from '../../search/load.ts'
import { USUAL_WORLDS, worldOf } from '../../world/worldOf.ts'
import { leastInWorlds, mostLookedAt } from './leastInWorlds.ts'
import { enoughFor, SHOWN_BY, shownBy, worthOfShown, type Measurable } from './shown.ts'
import { costOfFinding, costOfStarts, type ProbeCost } from './probeCost.ts'

/** What it is worth to know one of them before machines are rented. */
export interface Worth {
  what: Measurable
  /** by what it lowers the bill in the mean, beyond what chance would */
  savedPerMonth: number
  /** machines that are rented then, in which share of what it may show; the fewest first, null where as many as were looked at do not do */
  then: { machines: number | null; share: number }[]
  /** on which machine, and what it takes; null where nothing has to be rented for it, or nobody knows how */
  machine: string
  cost: ProbeCost | null
}

/** What measuring is worth where a fixed number of machines is rented. */
export interface WorthReport {
  /** worlds of which the fewest machines are known, of how many */
  settled: number
  of: number
  /** share of worlds that has to hold: the plan's, or 0.9 */
  certainty: number
  /** machines that are chosen, and the fewest that hold in so many worlds; null where as many as were looked at do not */
  chosen: number
  sure: number | null
  /** the most that were looked at */
  most: number
  /** what the latter cost more than the chosen ones */
  dearerPerMonth: number
  /** what pays, most first; empty until all worlds are settled */
  worth: Worth[]
}

const COSTS: Record<Measurable, (plan: Plan, candidate: Candidate) => ProbeCost | undefined> = {
  'step costs': costOfFinding,
  'start-up': costOfStarts,
  load: () => undefined,
}

/** Without a certainty in the plan. */
const USUAL_CERTAINTY = 0.9
/** Of fewer worlds the parts are too small for a share of them to say anything. */
const LEAST_WORLDS = 40

/** In how many worlds a configuration holds, and then what it is worth to know which of them it is. */
export type WorldsAndWorth = WorldsReport & { worth: WorthReport | null }

/** Runs both, one world after the other; a number of machines that follows the load or is paid by the call has no worth to be told. */
export function* worldsAndWorth(
  plan: Plan,
  service: string,
  chosen: Sized,
  load: Load,
  count = USUAL_WORLDS,
): Generator<WorldsAndWorth, WorldsAndWorth> {
  const steps = worlds(plan, service, chosen, load, count)
  let next = steps.next()
  for (; !next.done; next = steps.next()) yield { ...next.value, worth: null }
  const report = next.value
  const candidate = specOf(plan, service, chosen.option, chosen.machines)?.candidate
  if (count < LEAST_WORLDS || !candidate || candidate.elastic || candidate.paysByRun) return { ...report, worth: null }
  const asked = worthOf(plan, service, chosen, candidate, report, load)
  let told = asked.next()
  for (; !told.done; told = asked.next()) yield { ...report, worth: told.value }
  return { ...report, worth: told.value }
}

function* worthOf(
  plan: Plan,
  service: string,
  chosen: Sized,
  candidate: Candidate,
  { held, strains }: WorldsReport,
  load: Load,
): Generator<WorthReport, WorthReport> {
  const groups = Math.round(chosen.machines / candidate.group.machines)
  const machines = (n: number) => fleetOf(candidate, n).machines
  const certainty = plan.certainty ?? USUAL_CERTAINTY
  const monthly = (n: number) => costPerHour(candidate, n) * HOURS_PER_MONTH
  const nothing = {
    of: held.length,
    certainty,
    chosen: chosen.machines,
    sure: null,
    most: machines(mostLookedAt(groups, candidate.maxGroups)),
    dearerPerMonth: 0,
    worth: [],
  }
  const steps = leastInWorlds(plan, service, chosen, { groups, maxGroups: candidate.maxGroups, machines }, held, load)
  let next = steps.next()
  for (; !next.done; next = steps.next()) yield { ...nothing, settled: next.value.length }
  const least = next.value
  const sure = enoughFor(certainty, least)
  const factors = held.map((_, number) => worldOf(plan, number).factorsAt(service, chosen.option))
  const worth = (Object.keys(SHOWN_BY) as Measurable[]).flatMap((what) => {
    const shown = shownBy(what, factors, strains, new RandomStream(plan.seed, 'worth', what))
    const found =
      shown && worthOfShown({ shown, least, certainty, monthly, machines }, new RandomStream(plan.seed, 'worth by chance', what))
    return found ? [{ what, ...found, machine: candidate.machine.name, cost: COSTS[what](plan, candidate) ?? null }] : []
  })
  return {
    ...nothing,
    settled: held.length,
    sure: Number.isFinite(sure) ? machines(sure) : null,
    dearerPerMonth: Number.isFinite(sure) ? monthly(sure) - monthly(groups) : 0,
    worth: worth.sort((a, b) => b.savedPerMonth - a.savedPerMonth),
  }
}
