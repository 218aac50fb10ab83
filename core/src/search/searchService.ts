import { certainty } from '../measure/certainty.ts'
import type { Plan, Service } from '../plan/schema.ts'
import type { Profile } from '../service/profile.ts'
import { demandOf, hopeless, leastBusySeconds, type Demand } from './bounds.ts'
import { costPerHour, enumerate, optionKey, type Candidate } from './candidate.ts'
import { affordable, Ranking, type Found, type TargetOutcome } from './found.ts'
import type { Load } from './load.ts'
import { ORDERS_AT_ONCE, type Missed, type Search, type TrialOrder, type TrialResult } from './order.ts'
import type { Rejection } from './rejection.ts'
import { targetsOf } from './trial.ts'
import { profileOf } from './trialRunner.ts'

/** How many options an answer holds: the cheapest and the runners-up. */
export const RANKED = 5

/** True progress of a search: candidates settled of all, and the best so far. */
export interface SearchProgress {
  service: string
  settled: number
  total: number
  simulations: number
  best: Ranked | undefined
}

export interface Rejected {
  candidate: Candidate
  rejection: Rejection
}

export interface ServiceSearch {
  service: Service
  /** cheapest first; every one of them meets its targets over all repetitions */
  ranked: readonly Found[]
  rejected: Rejected[]
  candidates: number
  simulations: number
}

/** A candidate that bounds do not rule out, with all that is known of it so far. */
interface Open {
  candidate: Candidate
  profile: Profile
  /** no fewer machines can do: by the bound at first, then by trials */
  leastMachines: number
  /** what the first repetition said, by number of machines */
  tried: Map<number, { holds: boolean; missed: Missed | null }>
  confirmed: Map<number, Found>
}

/** An option with the smallest number of machines for which the first repetition holds. */
export interface Ranked {
  candidate: Candidate
  machines: number
  perHour: number
}

/**
 * Finds the cheapest configurations of a service that meet every target. Impossible options go first, then those that
 * bounds rule out; what is left is simulated in order of the least that it can cost. An option is first tried with as
 * many machines as it may have and still beat the ranking: if that misses, one simulation has settled it. Otherwise
 * bisection finds its smallest number. The ranked options are then confirmed over all repetitions; one that leaves a
 * doubt needs a machine more, and the ranking is made again with all that is known by then.
 *
 * The search runs nothing itself: it gives orders and takes results (see `order.ts`); whoever drives it may stop at any time.
 */
export function* searchService(plan: Plan, service: Service, load: Load): Search<SearchProgress, ServiceSearch> {
  return yield* new ServiceSearcher(plan, service, load).run()
}

class ServiceSearcher {
  private readonly plan: Plan
  private readonly service: Service
  private readonly load: Load
  private readonly demand: Demand
  private readonly candidates: Candidate[]
  private readonly ruledOut: Rejected[] = []
  private rejected: Rejected[] = []
  private ranking = new Ranking<Ranked>(RANKED)
  private simulations = 0

  constructor(plan: Plan, service: Service, load: Load) {
    this.plan = plan
    this.service = service
    this.load = load
    this.demand = demandOf(plan, service, load.of(service, 0))
    this.candidates = enumerate(plan, service)
  }

  *run(): Search<SearchProgress, ServiceSearch> {
    const open = this.candidates.flatMap((c) => this.bounded(c))
    for (;;) {
      yield* this.rank(open)
      const ranked = yield* this.confirmAll(open)
      if (!ranked) continue
      const { service, simulations } = this
      return { service, ranked, rejected: [...this.ruledOut, ...this.rejected], simulations, candidates: this.candidates.length }
    }
  }

  private progress(): SearchProgress {
    const ranked = this.ranking.best()
    return {
      service: this.service.name, settled: this.ruledOut.length + this.rejected.length + ranked.length,
      total: this.candidates.length, simulations: this.simulations, best: ranked[0],
    }
  }

  /** Rules out what no simulation is needed for. */
  private bounded(candidate: Candidate): Open[] {
    const reject = (rejection: Rejection): Open[] => {
      this.ruledOut.push({ candidate, rejection })
      return []
    }
    const { fit, maxMachines, limitedBy, machine } = candidate
    if (!fit.fits) return reject({ kind: 'misfit', misfit: fit.misfit })
    if (maxMachines === 0) return reject({ kind: 'no-stock', machine: machine.name })
    const profile = profileOf(candidate)
    const never = hopeless(this.demand, profile)
    if (never) return reject({ kind: 'hopeless', hopeless: never })
    const leastMachines = this.leastMachines(candidate, profile)
    if (leastMachines > maxMachines) return reject({ kind: 'work', machinesNeeded: leastMachines, maxMachines, limitedBy })
    return [{ candidate, profile, leastMachines, tried: new Map(), confirmed: new Map() }]
  }

  private leastMachines(candidate: Candidate, profile: Profile): number {
    const seconds = Math.max(1e-9, this.plan.horizon.seconds - (this.service.startupSeconds ?? 0))
    const replicas = Math.ceil(leastBusySeconds(this.demand, profile) / seconds - 1e-9)
    return Math.max(1, Math.ceil(replicas / candidate.perMachine))
  }

  /** Makes the ranking by the first repetition, from all that is known. */
  private *rank(open: Open[]): Search<SearchProgress, void> {
    this.ranking = new Ranking<Ranked>(RANKED)
    this.rejected = []
    const order = [...open].sort((a, b) => leastCost(a) - leastCost(b) || a.candidate.index - b.candidate.index)
    for (const [i, option] of order.entries()) {
      if (i % ORDERS_AT_ONCE === 0) yield* this.prefetch(order.slice(i, i + ORDERS_AT_ONCE))
      yield* this.settle(option)
    }
  }

  /**
   * Runs the first trial that each of the next options will want, together. Prices to beat only fall, so that a trial
   * made on account may turn out to be more than was needed, never wrong.
   */
  private *prefetch(next: readonly Open[]): Search<SearchProgress, void> {
    const wanted = next.flatMap((option) => {
      const toBeat = this.ranking.toBeat(option.candidate)
      const most = affordable(option.candidate, toBeat)
      const machines = toBeat === undefined ? option.leastMachines : most
      return option.leastMachines > most || option.tried.has(machines) ? [] : [{ option, machines }]
    })
    yield* this.tryAll(wanted)
  }

  private *tryAll(wanted: readonly { option: Open; machines: number }[]): Search<SearchProgress, void> {
    if (wanted.length === 0) return
    const results = yield* this.order(wanted.map(({ option, machines }) => trialOrder(this.service, option, machines)))
    results.forEach(({ holds, missed }, i) => {
      const { option, machines } = wanted[i]
      option.tried.set(machines, { holds, missed })
      if (!holds) option.leastMachines = Math.max(option.leastMachines, machines + 1)
    })
  }

  private *order(orders: TrialOrder[]): Search<SearchProgress, TrialResult[]> {
    this.simulations += orders.length
    return yield { orders, progress: this.progress() }
  }

  private *settle(option: Open): Search<SearchProgress, void> {
    const { candidate } = option
    const toBeat = this.ranking.toBeat(candidate)
    const most = affordable(candidate, toBeat)
    if (option.leastMachines > most) {
      this.rejected.push({ candidate, rejection: this.beyond(option, toBeat) })
      return
    }
    const machines = yield* this.smallest(option, most, toBeat !== undefined)
    if (machines === undefined) this.rejected.push({ candidate, rejection: this.beyond(option, toBeat) })
    else this.enter({ candidate, machines, perHour: costPerHour(candidate, machines) })
  }

  /** Why an option is out that needs more machines than it may have: its limit, or the price to beat. */
  private beyond(option: Open, toBeat: { perHour: number } | undefined): Rejection {
    const { candidate, leastMachines } = option
    const thanPerHour = toBeat?.perHour ?? 0
    const machines = leastMachines - 1
    const missed = option.tried.get(machines)?.missed
    if (!missed) return { kind: 'dearer-bound', machines: leastMachines, perHour: leastCost(option), thanPerHour }
    const replicas = machines * candidate.perMachine
    if (machines === candidate.maxMachines) return { kind: 'limit', machines, replicas, limitedBy: candidate.limitedBy, missed }
    return { kind: 'dearer', machines, replicas, perHour: costPerHour(candidate, machines), thanPerHour, missed }
  }

  private enter(ranked: Ranked): void {
    const out = this.ranking.add(ranked)
    if (!out) return
    const { candidate, machines, perHour } = out
    const twin = this.ranking.best().find((f) => optionKey(f.candidate) === optionKey(candidate))
    const dearest = this.ranking.best().at(-1)?.perHour ?? perHour
    this.rejected.push({
      candidate,
      rejection: twin
        ? { kind: 'same-option', sequences: candidate.sequences, bestSequences: twin.candidate.sequences, bestPerHour: twin.perHour, perHour }
        : { kind: 'dearer-bound', machines, perHour, thanPerHour: dearest },
    })
  }

  /**
   * The smallest number of machines for which the first repetition holds; undefined when `most` do not suffice. With a
   * price to beat the dearest affordable number is tried first; without one, growing steps from the bound keep fleets
   * small. Between a number that misses and one that holds two are tried at a time.
   */
  private *smallest(option: Open, most: number, priced: boolean): Search<SearchProgress, number | undefined> {
    let high = priced ? most : option.leastMachines
    for (let step = 1; !(yield* this.holds(option, high)); step *= 2) {
      if (high === most) return undefined
      high = Math.min(most, option.leastMachines + step)
    }
    while (option.leastMachines < high) {
      const low = option.leastMachines
      const third = (high - low) / 3
      const points = [...new Set([Math.floor(low + third), Math.floor(low + 2 * third)])]
      yield* this.tryAll(points.filter((machines) => !option.tried.has(machines)).map((machines) => ({ option, machines })))
      high = points.find((machines) => option.tried.get(machines)?.holds) ?? high
      // A point that misses above one that holds would be out of order: the smaller one that holds decides.
      if (option.leastMachines > high) option.leastMachines = high
    }
    return high
  }

  private *holds(option: Open, machines: number): Search<SearchProgress, boolean> {
    if (!option.tried.has(machines)) yield* this.tryAll([{ option, machines }])
    return option.tried.get(machines)?.holds ?? false
  }

  /** The ranked options confirmed over all repetitions; undefined when one of them needs more machines than thought. */
  private *confirmAll(open: readonly Open[]): Search<SearchProgress, Found[] | undefined> {
    const out: Found[] = []
    for (const { candidate, machines } of this.ranking.best()) {
      const option = open.find((o) => o.candidate === candidate)
      if (!option) throw new Error('a ranked option is not among the open ones')
      const found = yield* this.confirm(option, machines)
      if (!found) return undefined
      out.push(found)
    }
    return out
  }

  private *confirm(option: Open, machines: number): Search<SearchProgress, Found | undefined> {
    const known = option.confirmed.get(machines)
    if (known) return known
    const { plan, service, load } = this
    const repetitions = Array.from({ length: load.repetitions(service) }, (_, repetition) => repetition)
    const results = yield* this.order(repetitions.map((repetition) => ({ ...trialOrder(service, option, machines), repetition, toTheEnd: true })))
    const { finished } = results[0]
    const targets = targetsOf(plan, service).map(({ className, classIndex, target }, i): TargetOutcome => {
      return { className, classIndex, target, ...certainty(results.map((r) => r.values?.[i] ?? undefined), target, plan.margin) }
    })
    const { candidate, profile } = option
    const found = { candidate, profile, machines, replicas: machines * candidate.perMachine, perHour: costPerHour(candidate, machines), targets, finished }
    const doubtful = targets.find((t) => t.certainty !== 'meets')
    if (!doubtful) {
      option.confirmed.set(machines, found)
      return found
    }
    option.leastMachines = machines + 1
    option.tried.set(machines, { holds: false, missed: doubt(doubtful) })
    return undefined
  }
}

/** An order for the first repetition; at its limit an option's figures are wanted even when it misses. */
function trialOrder(service: Service, { candidate }: Open, machines: number): TrialOrder {
  const toTheEnd = machines === candidate.maxMachines
  return { service: service.name, candidate: candidate.index, machines, repetition: 0, loadFactor: 1, toTheEnd }
}

function doubt({ className, target, interval }: TargetOutcome): Missed {
  const value = target.measure === 'throughput' ? interval?.low : interval?.high
  return { className, target, likely: true, misses: 0, considered: 0, ...(value === undefined ? {} : { value }) }
}

function leastCost({ candidate, leastMachines }: Open): number {
  return costPerHour(candidate, leastMachines)
}
