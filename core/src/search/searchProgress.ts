import type { Purchase } from '../cost/purchase.ts'
import { fleetOf, type Candidate } from '../candidate/candidate.ts'

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
