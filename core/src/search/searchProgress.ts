import type { Purchase } from '../cost/purchase.ts'
import { costPerHour, fleetOf, type Candidate } from '../candidate/candidate.ts'
import type { Found } from './found.ts'
import { knownCost, type Option } from './option.ts'

/** True progress of a search: candidates of which one knows whether they are the answer, of all, and the cheapest that is known to hold. */
export interface SearchProgress {
  service: string
  settled: number
  total: number
  simulations: number
  best: BestSoFar | undefined
  /** nothing that costs less, per hour, can hold; null when nothing holds at all */
  leastPerHour: number | null
}

/** The cheapest that is known to hold. */
export interface BestSoFar {
  machine: string
  machines: number
  policy: string | null
  purchase: Purchase
  perHour: number
  /**
   * what one knows of it: at first that its busiest stretch holds, then one whole draw, and in the end that nothing cheaper does over all
   * draws; of what is stated that it was run
   */
  known: 'held-in-stretch' | 'held' | 'proved' | 'stated'
}

export function bestOf(candidate: Candidate, groups: number, perHour: number, known: BestSoFar['known']): BestSoFar {
  return {
    machine: candidate.machine.name,
    machines: fleetOf(candidate, groups).machines,
    policy: candidate.policy?.name ?? null,
    purchase: candidate.purchase,
    perHour,
    known,
  }
}

/** How a search of one service stands. */
export interface Standing {
  service: string
  candidates: number
  simulations: number
  /** options that may still be the answer, and the least that any of them may cost */
  open: { count: number; least: number }
  /** the cheapest, once it is proved */
  proved: Found | undefined
  /** the cheapest of which one whole draw holds */
  held: Option | undefined
  /** what holds in its busiest stretch */
  likely: { option: Option; groups: number } | undefined
}

export function progressOf({ service, candidates, simulations, open, proved, held, likely }: Standing): SearchProgress {
  const least = Math.min(open.least, held ? knownCost(held) : Infinity)
  return {
    service,
    settled: candidates - open.count,
    total: candidates,
    simulations,
    best: bestKnown(proved, held, likely),
    leastPerHour: Number.isFinite(least) ? least : null,
  }
}

function bestKnown(proved: Standing['proved'], held: Standing['held'], likely: Standing['likely']): BestSoFar | undefined {
  if (proved) return bestOf(proved.candidate, proved.groups, proved.perHour, 'proved')
  if (held) return bestOf(held.candidate, held.holdsAt, knownCost(held), 'held')
  if (!likely) return undefined
  const { candidate } = likely.option
  return bestOf(candidate, likely.groups, costPerHour(candidate, likely.groups), 'held-in-stretch')
}
