import { worlds, type WorldsReport } from '../../answer/worlds.ts'
import type { Candidate } from '../../candidate/candidate.ts'
import type { Plan } from '../../plan/schema.ts'
import { RandomStream } from '../../random/stream.ts'
import { specOf } from '../../run/specOf.ts'
import type { Load } from '../../search/load.ts'
import { USUAL_WORLDS, worldOf } from '../../world/worldOf.ts'
import { ladderOf, type Ladder } from './ladder.ts'
import { costOfFinding, costOfStarts, type ProbeCost } from './probeCost.ts'
import { enoughFor, type Rung } from './rungs.ts'
import { SHOWN_BY, shownBy, worthOfShown, type Measurable } from './shown.ts'

/** What it is worth to know one of them before machines are rented. */
export interface Worth {
  what: Measurable
  /** by what it lowers the bill in the mean, beyond what chance would */
  savedPerMonth: number
  /** what is rented then, in which share of what it may show; the cheapest first, null where nothing that was looked at does */
  then: { rung: Rung | null; share: number }[]
  /** on which machine, and what it takes; null where nothing has to be rented for it, or nobody knows how */
  machine: string
  cost: ProbeCost | null
}

/** What measuring is worth before it is rented. */
export interface WorthReport {
  /** worlds of which it is known what holds there, of how many */
  settled: number
  of: number
  /** share of worlds that has to hold: the plan's, or 0.9 */
  certainty: number
  /** what is chosen, and the cheapest that holds in so many worlds; null where nothing that was looked at does */
  chosen: Rung
  sure: Rung | null
  /** the most machines of what is chosen that were looked at; null where their number follows the load or is paid by the run */
  most: number | null
  /** what the latter cost more than what is chosen */
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

/**
 * Runs both, one world after the other.
 *
 * @param others what may be rented in place of what is chosen
 */
export function* worldsAndWorth(
  plan: Plan,
  service: string,
  chosen: Rung,
  others: readonly Rung[],
  load: Load,
  count = USUAL_WORLDS,
): Generator<WorldsAndWorth, WorldsAndWorth> {
  const steps = worlds(plan, service, chosen, load, count)
  let next = steps.next()
  for (; !next.done; next = steps.next()) yield { ...next.value, worth: null }
  const report = next.value
  const candidate = specOf(plan, service, chosen.option, chosen.machines)?.candidate
  if (count < LEAST_WORLDS || !candidate) return { ...report, worth: null }
  const asked = worthOf(plan, service, ladderOf(plan, service, chosen, others, candidate, report.held, load), candidate, report)
  let told = asked.next()
  for (; !told.done; told = asked.next()) yield { ...report, worth: told.value }
  return { ...report, worth: told.value }
}

function* worthOf(
  plan: Plan,
  service: string,
  { chosen, rungs, most, holds: worldsOf }: Ladder,
  candidate: Candidate,
  { held, strains }: WorldsReport,
): Generator<WorthReport, WorthReport> {
  const certainty = plan.certainty ?? USUAL_CERTAINTY
  const nothing = { of: held.length, certainty, chosen, sure: null, most, dearerPerMonth: 0, worth: [] }
  const holds: boolean[][] = []
  for (const world of worldsOf) {
    holds.push(world)
    yield { ...nothing, settled: holds.length }
  }
  const sure = rungs.at(enoughFor(certainty, holds)) ?? null
  const factors = held.map((_, number) => worldOf(plan, number).factorsAt(service, chosen.option))
  const perMonth = rungs.map((r) => r.perMonth)
  const worth = (Object.keys(SHOWN_BY) as Measurable[]).flatMap((what): Worth[] => {
    const shown = shownBy(what, factors, strains, new RandomStream(plan.seed, 'worth', what))
    const found = shown && worthOfShown({ shown, holds, certainty, perMonth }, new RandomStream(plan.seed, 'worth by chance', what))
    if (!found) return []
    const then = found.then.map(({ rung, share }) => ({ rung: rung === null ? null : rungs[rung], share }))
    return [{ what, savedPerMonth: found.savedPerMonth, then, machine: candidate.machine.name, cost: COSTS[what](plan, candidate) ?? null }]
  })
  return {
    ...nothing,
    settled: held.length,
    sure,
    dearerPerMonth: sure ? sure.perMonth - chosen.perMonth : 0,
    worth: worth.sort((a, b) => b.savedPerMonth - a.savedPerMonth),
  }
}
