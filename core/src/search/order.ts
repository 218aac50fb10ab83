import type { Solution } from './solver.ts'
import type { Candidate } from '../candidate/candidate.ts'
import type { Service, Target } from '../plan/schema.ts'

/** A simulation that a search wants to have run: plain data, so that it can be sent to another thread. */
export interface TrialOrder {
  service: string
  /** place of the candidate in the service's enumeration */
  candidate: number
  /** groups of machines, see `Candidate.group` */
  groups: number
  repetition: number
  /** multiple of the plan's load */
  loadFactor: number
  /** the one class whose load is multiplied; all of the service if absent */
  grown?: string
  /** run to the end even when a target is already lost, to learn the figures */
  toTheEnd: boolean
  /**
   * only the busiest stretch of the horizon, with so many groups ready at its start (see `busiest.ts`): what misses there misses over all
   */
  busiest?: boolean
  /** in this world of the plan (see `worldOf`), whose load factor and repetition are the order's; in the plan as it stands if absent */
  world?: number
}

/** A target that a trial missed. */
export interface Missed {
  className: string
  target: Target
  /** what it came to; absent when the run was stopped as beyond repair */
  value?: number
  misses: number
  considered: number
  /** the repetitions leave a doubt: `value` is the end of their interval on the wrong side */
  likely?: boolean
  /** the busiest stretch of the horizon was enough, run alone */
  inBusiest?: boolean
  /** the plan as it stands is kept, and too few of its worlds are: so many broke, of so many that were run, of all that there are */
  worlds?: { broken: number; run: number; of: number }
}

/** What a trial said, without the record of every request. */
export interface TrialResult {
  holds: boolean
  /** the target with the largest share of misses, when it does not hold */
  missed: Missed | null
  /** values of all targets in the order of the plan; null when the run did not get to the end */
  values: (number | null)[] | null
  /** what the machines cost, per hour; nothing is known of a policy whose run was stopped early */
  paidPerHour: number
  /** the same with 0, 1, 2 … groups committed to, where what is paid depends on the run (see `perHourByCommitted`); else empty */
  perHourByCommitted: number[]
  /** from when until when each group was there that may be committed to, in seconds, one pair after the other; empty where none may */
  committable: number[]
  /** machines that were there, averaged over the horizon */
  meanMachines: number
  /** the most that were there at one time */
  mostMachines: number
  /** requests that finished, and their tokens */
  finished: { requests: number; tokens: number }
}

/** One step of a search: what it wants to know next, and how far it is. */
export interface SearchStep<P> {
  orders: TrialOrder[]
  progress: P
}

/** A step that waits for several searches, each of which goes on as soon as its own orders are done. It is given their findings. */
export interface ForkStep<P> {
  fork: readonly Steps<unknown, unknown>[]
  /** the progress of all of them in one; undefined for those that are done */
  told: (progress: readonly unknown[]) => P
}

/** A step that waits for a linear program with integers to be solved. It is given its solution. */
export interface SolveStep {
  /** in the CPLEX LP format */
  solve: string
}

/** A search: gives orders, takes their results in the same order, ends with its finding. */
export type Steps<P, T> = Generator<SearchStep<P> | ForkStep<P> | SolveStep, T, unknown>

/** Gives orders and takes their results. */
export function* ordered<P>(orders: TrialOrder[], progress: P): Steps<P, TrialResult[]> {
  return (yield { orders, progress }) as TrialResult[] // whoever drives a search answers orders with results
}

/** Asks for the solution of a linear program. */
export function* solved<P>(problem: string): Steps<P, Solution | undefined> {
  return (yield { solve: problem }) as Solution | undefined // whoever drives a search answers a problem with its solution
}

/** How many orders a search gives at once where it could give any number. Fixed, so that results do not depend on who runs them. */
export const ORDERS_AT_ONCE = 4

/** An order for the first repetition; at its limit the figures of a fixed number are wanted even when it misses. */
export function trialOrder(service: Service, candidate: Candidate, groups: number): TrialOrder {
  return {
    service: service.name,
    candidate: candidate.index,
    groups,
    repetition: 0,
    loadFactor: 1,
    toTheEnd: groups === candidate.maxGroups && !candidate.elastic,
  }
}
