import { bestCommitted, committedOfSteady, leastOfGroup, steadyPerHour } from '../cost/bill.ts'
import { ON_DEMAND, purchaseName } from '../cost/purchase.ts'
import { certainty } from '../measure/certainty.ts'
import { headRoom } from '../measure/targets.ts'
import { obtainable } from '../plan/machineSchema.ts'
import type { Plan, Service } from '../plan/schema.ts'
import type { Profile } from '../service/profile.ts'
import { demandOf, hopeless, leastAwakeSeconds, leastBusySeconds, slack, type Demand } from './bounds.ts'
import { costPerHour, enumerate, fleetOf, type Candidate } from './candidate.ts'
import type { Found, TargetOutcome } from './found.ts'
import type { Load } from './load.ts'
import { byLeastCost, doubt, groupsForLeast, isSettled, knownCost, learn, learnMore, leastCost, newOption, nextTry, type Option } from './option.ts'
import { ordered, ORDERS_AT_ONCE, type Missed, type Search, type TrialOrder, type TrialResult } from './order.ts'
import type { Rejection } from './rejection.ts'
import { targetsOf } from './trial.ts'
import { profileOf } from './trialRunner.ts'

/** How many options an answer holds: the cheapest and the runners-up. */
export const RANKED = 4

/** So many places are tried in the opening: one is enough for a first answer. */
const OPENING = 1
/** The opening tries so many times the machines that the work alone needs, and one more. */
const OPENING_TIMES = 2
/** And only where the promises are so many times what a request takes alone. */
const OPENING_SLACK = 2

/** Options of which a further repetition is run at once. */
const CONFIRMED_AT_ONCE = 2

/** True progress of a search: candidates settled of all, and the cheapest that is known to hold. */
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
  purchase: string
  perHour: number
  /** nothing cheaper can hold; before that one draw of the load is all that says what it costs */
  proved: boolean
}

export function bestOf(candidate: Candidate, groups: number, perHour: number, proved: boolean): BestSoFar {
  return { machine: candidate.machine.name, machines: fleetOf(candidate, groups).machines, policy: candidate.policy?.name ?? null, purchase: purchaseName(candidate.purchase), perHour, proved }
}

export interface Rejected {
  candidate: Candidate
  rejection: Rejection
}

export interface ServiceSearch {
  service: Service
  /** cheapest first, of equal cost the one with most to spare; every one of them meets its targets over all repetitions; one for each machine, variant and device count */
  ranked: readonly Found[]
  rejected: Rejected[]
  candidates: number
  simulations: number
}

/**
 * Finds the cheapest configurations of a service that meet every target, best first: impossible candidates go, then
 * those that bounds rule out; of the others the one that may be the cheapest is always the next to be tried, until its
 * cost is known exactly. Then it is confirmed over all repetitions and ranked; nothing that is left can be cheaper.
 *
 * The search runs nothing itself: it gives orders and takes results (see `order.ts`); whoever drives it may stop at
 * any time.
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
  private readonly options: Option[]
  private readonly repetitions: number
  /** options of a fixed number, by place */
  private readonly fixedAt = new Map<string, Option[]>()
  private readonly awake = new Map<string, number>()
  private readonly ranked: Found[] = []
  private readonly rankedKeys = new Map<string, Found>()
  private simulations = 0

  constructor(plan: Plan, service: Service, load: Load) {
    this.plan = plan
    this.service = service
    this.load = load
    this.demand = demandOf(plan, service, load.of(service, 0))
    this.candidates = enumerate(plan, service)
    this.repetitions = load.repetitions(service)
    this.options = this.candidates.flatMap((c) => this.bounded(c))
    for (const o of this.options) if (!o.candidate.paysByRun) this.fixedAt.set(o.place, [...(this.fixedAt.get(o.place) ?? []), o])
  }

  *run(): Search<SearchProgress, ServiceSearch> {
    yield* this.open()
    while (this.ranked.length < RANKED) {
      const open = this.openOptions()
      if (open.length === 0) break
      // Whoever waits does so for a fixed number that costs no more, which is open as well.
      const first = open.find((o) => !this.waits(o)) ?? open[0]
      if (first.confirmed) this.rank(first, first.confirmed)
      else if (isSettled(first)) yield* this.confirm(open.filter((o) => isSettled(o) && !o.confirmed && !this.waits(o)).slice(0, CONFIRMED_AT_ONCE))
      else yield* this.tryAll(open.filter((o) => !isSettled(o) && !this.waits(o)).slice(0, ORDERS_AT_ONCE))
    }
    this.ranked.sort((a, b) => a.perHour - b.perHour || leastHeadRoom(b) - leastHeadRoom(a) || a.candidate.index - b.candidate.index)
    const { service, ranked, simulations } = this
    const chosen = new Set(ranked.map((f) => f.candidate))
    const rest = this.options.filter((o) => !chosen.has(o.candidate)).map((o) => ({ candidate: o.candidate, rejection: this.rejection(o) }))
    return { service, ranked, rejected: [...this.ruledOut, ...rest], simulations, candidates: this.candidates.length }
  }

  /** The opening: fixed numbers with room to spare, on the cheapest places that are fast enough to spare some, so that there is an answer soon. */
  private *open(): Search<SearchProgress, void> {
    const places = new Set<string>()
    const fixed = this.options.filter((o) => !o.candidate.elastic).map((option) => ({ option, spare: slack(this.demand, option.profile) }))
    const fast = fixed.filter(({ spare }) => spare >= OPENING_SLACK)
    const byCost = (fast.length > 0 ? fast : fixed).sort((a, b) => byLeastCost(a.option, b.option) || b.option.candidate.sequences - a.option.candidate.sequences)
    const first = byCost.map(({ option }) => option).filter((o) => !places.has(o.place) && places.add(o.place)).slice(0, OPENING)
    const groups = first.map((o) => Math.min(o.candidate.maxGroups, o.leastGroups * OPENING_TIMES + 1))
    if (first.length === 0) return
    const results = yield* this.order(first.map((o, i) => ({ ...trialOrder(this.service, o.candidate, groups[i]), toTheEnd: false })))
    results.forEach((result, i) => learn(first[i], groups[i], result))
  }

  /** Options that may still be ranked, the possibly cheapest first. */
  private openOptions(): Option[] {
    return this.options.filter((o) => o.leastGroups <= o.candidate.maxGroups && !this.rankedKeys.has(o.key) && !this.betterFixed(o)).sort(byLeastCost)
  }

  /** A fixed number on the same place that holds for no more than a policy costs at least; one cannot save by it then. */
  private betterFixed(option: Option): Option | undefined {
    if (!option.candidate.policy) return undefined
    const groups = groupsForLeast(option)
    return this.fixedAt.get(option.place)?.find((o) => o.holdsAt <= groups)
  }

  /** Whether it is still open that a fixed number on the same place holds for no more: that is cheaper to know. */
  private waits(option: Option): boolean {
    if (!option.candidate.policy) return false
    const groups = groupsForLeast(option)
    return this.fixedAt.get(option.place)?.some((o) => o.leastGroups <= groups) ?? false
  }

  /** Rules out what no simulation is needed for. */
  private bounded(candidate: Candidate): Option[] {
    const reject = (rejection: Rejection): Option[] => {
      this.ruledOut.push({ candidate, rejection })
      return []
    }
    const { fit, maxGroups, limitedBy, machine } = candidate
    if (!fit.fits) return reject({ kind: 'misfit', misfit: fit.misfit })
    if (maxGroups === 0) return reject({ kind: 'no-stock', machine: machine.name, limitedBy, has: obtainable(machine), needed: candidate.group.machines })
    const profile = profileOf(candidate)
    const never = hopeless(this.demand, profile)
    if (never) return reject({ kind: 'hopeless', hopeless: never })
    const least = this.leastGroups(candidate, profile)
    const byRun = candidate.paysByRun && !candidate.elastic
    if (least > maxGroups) return reject({ kind: 'work', machinesNeeded: fleetOf(candidate, least).machines, maxMachines: fleetOf(candidate, maxGroups).machines, limitedBy })
    return [newOption(candidate, profile, byRun ? 1 : least, this.leastPaid(candidate, profile), byRun ? this.busyGroups(candidate, profile) * leastOfGroup(candidate) : 0)]
  }

  /**
   * With a policy: its minimum is there all the time as far as it can be had; the work keeps so much busy however it is
   * spread (of the first repetition, whose work is known); a service that sleeps is awake while it has callers.
   */
  private leastPaid(candidate: Candidate, profile: Profile): number[] {
    const { policy, group, maxGroups } = candidate
    if (!policy) return candidate.paysByRun ? new Array<number>(this.repetitions).fill(0) : []
    const { seconds } = this.plan.horizon
    const { idle } = policy
    const byMinimum = Math.min(maxGroups, Math.ceil(policy.min / group.replicas))
    const busy = this.busyGroups(candidate, profile)
    return Array.from({ length: this.repetitions }, (_, r) => leastOfGroup(candidate) * Math.max(byMinimum, r === 0 ? busy : 0, idle ? this.awakeSeconds(r, idle.seconds) / seconds : 0))
  }

  /** Groups that the work of the first repetition keeps busy on average, however it is spread. */
  private busyGroups({ group }: Candidate, profile: Profile): number {
    return leastBusySeconds(this.demand, profile) / (this.plan.horizon.seconds * group.replicas)
  }

  private awakeSeconds(repetition: number, idleSeconds: number): number {
    const key = `${repetition} ${idleSeconds}`
    const known = this.awake.get(key) ?? leastAwakeSeconds(this.load.of(this.service, repetition), idleSeconds, this.plan.horizon.seconds)
    this.awake.set(key, known)
    return known
  }

  private leastGroups(candidate: Candidate, profile: Profile): number {
    // Stages and their spread may be passed quickly: nothing is taken off for them.
    const startup = this.service.start || candidate.elastic ? 0 : (this.service.startupSeconds ?? 0)
    const seconds = Math.max(1e-9, this.plan.horizon.seconds - startup)
    const replicas = Math.ceil(leastBusySeconds(this.demand, profile) / seconds - 1e-9)
    return Math.max(1, Math.ceil(replicas / candidate.group.replicas))
  }

  /** The cost, per hour, from which on an option can not be ranked any more as far as is known. */
  private toBeat(key: string): number {
    const byKey = new Map<string, number>(this.ranked.map((f) => [f.key, f.perHour]))
    for (const o of this.options) byKey.set(o.key, Math.min(byKey.get(o.key) ?? Infinity, knownCost(o)))
    const costs = [...byKey.values()].sort((a, b) => a - b)
    return Math.min(byKey.get(key) ?? Infinity, costs[RANKED - 1] ?? Infinity)
  }

  private *tryAll(options: readonly Option[]): Search<SearchProgress, void> {
    const groups = options.map((o) => nextTry(o, this.toBeat(o.key)))
    const results = yield* this.order(options.map((o, i) => trialOrder(this.service, o.candidate, groups[i])))
    results.forEach((result, i) => learn(options[i], groups[i], result))
  }

  private *order(orders: TrialOrder[]): Search<SearchProgress, TrialResult[]> {
    this.simulations += orders.length
    return yield* ordered(orders, this.progress())
  }

  private progress(): SearchProgress {
    const limit = this.toBeat('')
    const open = this.openOptions().filter((o) => leastCost(o) <= limit)
    const best = this.options.reduce<Option | undefined>((b, o) => (knownCost(o) < (b ? knownCost(b) : Infinity) ? o : b), undefined)
    const [proved] = this.ranked
    const known = best ? knownCost(best) : Infinity
    const least = proved ? proved.perHour : open.length > 0 ? Math.min(leastCost(open[0]), known) : known
    return {
      service: this.service.name, settled: this.candidates.length - open.length, total: this.candidates.length, simulations: this.simulations,
      best: proved ? bestOf(proved.candidate, proved.groups, proved.perHour, true) : best && bestOf(best.candidate, best.holdsAt, known, false),
      leastPerHour: Number.isFinite(least) ? least : null,
    }
  }

  /**
   * Runs one repetition more of options whose first holds, the possibly cheapest first: what it costs may put one behind
   * others. Once all are known an option is confirmed, or in doubt.
   */
  private *confirm(options: readonly Option[]): Search<SearchProgress, void> {
    const open = options.filter((o) => o.held.length < this.repetitions)
    if (open.length > 0) {
      const results = yield* this.order(open.map((o) => ({ ...trialOrder(this.service, o.candidate, o.holdsAt), repetition: o.held.length, toTheEnd: true })))
      results.forEach((result, i) => learnMore(open[i], result))
    }
    for (const o of options) if (o.held.length === this.repetitions) this.judge(o)
  }

  /** What all repetitions together say; in doubt a fixed number needs a machine more, and a policy is out. */
  private judge(option: Option): void {
    const { candidate, profile, key, holdsAt: groups, held } = option
    const targets = targetsOf(this.plan, this.service).map(({ className, classIndex, target }, i): TargetOutcome => {
      return { className, classIndex, target, ...certainty(held.map((r) => r.values?.[i] ?? undefined), target, this.plan.margin) }
    })
    const doubtful = targets.find((t) => t.certainty !== 'meets')
    if (doubtful) return doubt(option, doubtfulTarget(doubtful))
    option.confirmed = { candidate, profile, key, groups, ...fleetOf(candidate, groups), ...this.paid(candidate, groups, held), targets, finished: held[0].finished }
  }

  private rank(option: Option, found: Found): void {
    this.ranked.push(found)
    this.rankedKeys.set(option.key, found)
  }

  /** A fleet that is there all the time costs what it costs; elsewhere the repetitions say it together, with one number that is committed to. */
  private paid(candidate: Candidate, groups: number, results: readonly TrialResult[]): Pick<Found, 'perHour' | 'perHourByDraw' | 'meanMachines' | 'committedGroups' | 'uncommittedPerHour'> {
    if (candidate.paysByRun) return { ...bestCommitted(results.map((r) => r.perHourByCommitted), candidate.prices), uncommittedPerHour: mean(results, (r) => r.perHourByCommitted[0]), meanMachines: mean(results, (r) => r.meanMachines) }
    const committedGroups = committedOfSteady(candidate, groups)
    const perHour = costPerHour(candidate, groups)
    return { perHour, perHourByDraw: results.map(() => perHour), uncommittedPerHour: steadyPerHour({ ...candidate, purchase: ON_DEMAND }, groups), meanMachines: fleetOf(candidate, groups).machines, committedGroups }
  }

  /** Why an option was not ranked, by what is known when the search is over. */
  private rejection(option: Option): Rejection {
    const { candidate, leastGroups, missed } = option
    const twin = this.rankedKeys.get(option.key)
    const fixed = this.betterFixed(option)
    const perHour = leastCost(option)
    const { machines } = fleetOf(candidate, candidate.elastic ? candidate.maxGroups : leastGroups)
    if (missed && missed.groups === candidate.maxGroups) return { kind: 'limit', ...fleetOf(candidate, missed.groups), perHour: candidate.elastic ? perHour : costPerHour(candidate, missed.groups), limitedBy: candidate.limitedBy, missed: missed.what }
    if (fixed && !twin) return { kind: 'no-saving', perHour, machines: fleetOf(fixed.candidate, fixed.holdsAt).machines, fixedPerHour: costPerHour(fixed.candidate, fixed.holdsAt) }
    if (twin) return { kind: 'same-option', sequences: candidate.sequences, machines, perHour, bestSequences: twin.candidate.sequences, bestPerHour: twin.perHour }
    const thanPerHour = this.ranked.at(-1)?.perHour ?? 0
    if (missed && missed.groups === leastGroups - 1) {
      return { kind: 'dearer', ...fleetOf(candidate, missed.groups), perHour: costPerHour(candidate, missed.groups), leastPerHour: perHour, thanPerHour, missed: missed.what }
    }
    return { kind: 'dearer-bound', machines, perHour, thanPerHour }
  }
}

/** An order for the first repetition; at its limit the figures of a fixed number are wanted even when it misses. */
function trialOrder(service: Service, candidate: Candidate, groups: number): TrialOrder {
  return { service: service.name, candidate: candidate.index, groups, repetition: 0, loadFactor: 1, toTheEnd: groups === candidate.maxGroups && !candidate.elastic }
}

const mean = (results: readonly TrialResult[], value: (r: TrialResult) => number) => results.reduce((sum, r) => sum + value(r), 0) / results.length

/** Head-room of the target that has least. */
function leastHeadRoom({ targets }: Found): number {
  return targets.reduce((least, { interval, target }) => Math.min(least, headRoom(interval?.mean, target) ?? Infinity), Infinity)
}

function doubtfulTarget({ className, target, interval }: TargetOutcome): Missed {
  const value = target.measure === 'throughput' ? interval?.low : interval?.high
  return { className, target, likely: true, misses: 0, considered: 0, ...(value === undefined ? {} : { value }) }
}
