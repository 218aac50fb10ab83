import { isByCall } from '../cost/purchase.ts'
import type { Plan, Service } from '../plan/schema.ts'
import { hasBusiest, routesByState } from '../run/busiest.ts'
import type { Candidate } from '../candidate/candidate.ts'
import { enumerate } from '../candidate/enumerate.ts'
import { Certain } from './certain.ts'
import { doubtOf, foundOf, outcomesOf } from './confirmed.ts'
import { leastHeadRoom, type Found } from './found.ts'
import type { Load } from './load.ts'
import { OpenCount } from './openCount.ts'
import { OpenOptions } from './openOptions.ts'
import { byLeastCost, doubt, groupsForLeast, isSettled, knownCost, learn, leastCost, newOption, nextTry, type Option } from './option.ts'
import { ordered, ORDERS_AT_ONCE, trialOrder, type Steps, type TrialOrder, type TrialResult } from './order.ts'
import type { Rejected, ServiceSearch } from './ranked.ts'
import type { Rejection } from './rejection.ts'
import { RuleOut } from './ruleOut.ts'
import { progressOf, type SearchProgress } from './searchProgress.ts'
import { Stretches, stretchKey } from './stretches.ts'
import { whyNot } from './whyNot.ts'

/** How many options an answer holds: the cheapest and the runners-up. */
export const RANKED = 4

/** The opening tries so many times the machines that the work alone needs, and one more. */
const OPENING_TIMES = 2
/** And only where the promises are so many times what a request takes alone. */
const OPENING_SLACK = 2

/** Options of which a further repetition is run at once. */
const CONFIRMED_AT_ONCE = 2

/** An option and the number of its groups that is to be tried. */
interface Try {
  option: Option
  groups: number
}

/**
 * Finds the cheapest configurations of a service that meet every target, best first: impossible candidates go, then
 * those that bounds rule out; of the others the one that may be the cheapest is always the next to be tried, until its
 * cost is known exactly. Then it is confirmed over all repetitions and ranked; nothing that is left can be cheaper. First
 * the cheapest is proved, then the next best are.
 *
 * The search runs nothing itself: it gives orders and takes results (see `order.ts`); whoever drives it may stop at
 * any time.
 */
export class ServiceSearcher {
  private readonly plan: Plan
  private readonly service: Service
  private readonly ruleOut: RuleOut
  private readonly candidates: Candidate[]
  private readonly ruledOut: Rejected[] = []
  private readonly options: Option[]
  private readonly byPlace = new Map<string, Option[]>()
  private open: OpenOptions
  /** options of which something is known to hold */
  private readonly known = new Set<Option>()
  private readonly stretches: Stretches | undefined
  /** what the opening saw hold in the busiest stretch */
  private likely: { option: Option; groups: number } | undefined
  private readonly ranked: Found[] = []
  private readonly rankedKeys = new Map<string, Found>()
  private readonly counted: OpenCount
  /** where the plan asks how sure an answer has to be */
  private readonly certain: Certain | undefined
  private simulations = 0
  /** how many are to be ranked */
  private goal = 1

  constructor(plan: Plan, service: Service, load: Load) {
    this.plan = plan
    this.service = service
    this.ruleOut = new RuleOut(plan, service, load)
    this.candidates = enumerate(plan, service)
    this.options = this.candidates.flatMap((c) => this.optionOf(c))
    for (const o of this.options) this.byPlace.set(o.place, [...(this.byPlace.get(o.place) ?? []), o])
    this.open = this.openOptions()
    this.counted = new OpenCount(this.options)
    this.certain = plan.certainty === undefined ? undefined : new Certain(plan, service, plan.certainty)
    this.stretches = hasBusiest(plan, service, load.of(service, 0)) ? new Stretches() : undefined
  }

  /** Until the cheapest is proved, or nothing is left that might hold. */
  *prove(): Steps<SearchProgress, ServiceSearch> {
    yield* this.begin()
    this.ruleOut.drawAll()
    for (const o of this.options) o.leastPaid = this.ruleOut.leastPaid(o.candidate, o.profile)
    this.open = this.openOptions()
    return yield* this.rankUpTo(1)
  }

  /** Until the next best are known as well. */
  *rankOthers(): Steps<SearchProgress, ServiceSearch> {
    return yield* this.rankUpTo(RANKED)
  }

  private *rankUpTo(goal: number): Steps<SearchProgress, ServiceSearch> {
    this.goal = goal
    while (this.ranked.length < goal) {
      const toBeat = this.toBeat()
      const open = this.nextOpen(toBeat)
      if (open.length === 0) break
      // Whoever waits does so for a fixed number that costs no more, which is open as well.
      const first = open.find((o) => !this.waits(o)) ?? open[0]
      // Others go beside it as long as they may still be wanted by what is known.
      const beside = open.filter((o) => o === first || (!this.waits(o) && !o.confirmed && leastCost(o) <= toBeat(o.key)))
      if (first.confirmed) this.rank(first, first.confirmed)
      else if (isSettled(first)) yield* this.confirm(beside.filter(isSettled).slice(0, CONFIRMED_AT_ONCE))
      else yield* this.tryAll(beside.filter((o) => !isSettled(o)).slice(0, ORDERS_AT_ONCE), toBeat)
    }
    return this.found()
  }

  private found(): ServiceSearch {
    const { service, simulations } = this
    const ranked = [...this.ranked].sort(
      (a, b) => a.perHour - b.perHour || leastHeadRoom(b) - leastHeadRoom(a) || a.candidate.index - b.candidate.index,
    )
    const chosen = new Set(ranked.map((f) => f.candidate))
    const rest = this.options
      .filter((o) => !chosen.has(o.candidate))
      .map((o) => ({ candidate: o.candidate, rejection: this.rejection(o), leastStrain: o.leastStrain }))
    return { service, ranked, rejected: [...this.ruledOut, ...rest], simulations, candidates: this.candidates.length }
  }

  private optionOf(candidate: Candidate): Option[] {
    const judged = this.ruleOut.judge(candidate)
    const { rejection, leastStrain } = judged
    if (rejection === null)
      return [newOption(candidate, judged.profile, judged.leastGroups, leastStrain, this.ruleOut.leastPaid(candidate, judged.profile))]
    this.ruledOut.push({ candidate, rejection, leastStrain })
    return []
  }

  /**
   * The opening: a fixed number with room to spare, on the cheapest place that is fast enough to spare some, so that there is
   * an answer soon: in its busiest stretch first, doubled until that holds, and then over all.
   */
  private *begin(): Steps<SearchProgress, void> {
    const fixed = this.options.filter((o) => !o.candidate.elastic)
    const fast = fixed.filter((o) => o.leastStrain <= 1 / OPENING_SLACK)
    const [option] = (fast.length > 0 ? fast : fixed).sort((a, b) => byLeastCost(a, b) || b.candidate.sequences - a.candidate.sequences)
    if (!option) return
    const { candidate } = option
    for (
      let groups = Math.min(candidate.maxGroups, option.leastGroups * OPENING_TIMES + 1);
      ;
      groups = Math.min(candidate.maxGroups, groups * 2)
    ) {
      if (this.stretches && groups < candidate.maxGroups) {
        if ((yield* this.missInStretch([{ option, groups }])).length > 0) continue
        this.likely = { option, groups }
      }
      const [result] = yield* this.order([{ ...trialOrder(this.service, candidate, groups), toTheEnd: false }])
      return this.take(option, groups, result)
    }
  }

  /** The first open options in order, as many as are tried at once; those that wait for others come along. */
  private nextOpen(toBeat: (key: string) => number): Option[] {
    let ready = 0
    return this.open.first((o) => {
      if (!this.waits(o)) ready++
      return ready > 0 && (ready >= ORDERS_AT_ONCE || leastCost(o) > toBeat(''))
    })
  }

  private openOptions(): OpenOptions {
    return new OpenOptions(this.options, (o) => this.isOpen(o))
  }

  /** Whether an option may still be ranked. */
  private isOpen(o: Option): boolean {
    return o.leastGroups <= o.candidate.maxGroups && !this.rankedKeys.has(o.key) && !this.betterFixed(o)
  }

  /** Fixed numbers on the same place whose cost does not depend on the run. */
  private fixedAt(place: string): Option[] {
    return (this.byPlace.get(place) ?? []).filter((o) => !o.candidate.paysByRun)
  }

  /** A fixed number on the same place that holds for no more than a policy costs at least; one cannot save by it then. */
  private betterFixed(option: Option): Option | undefined {
    if (!option.candidate.policy) return undefined
    const groups = groupsForLeast(option)
    return this.fixedAt(option.place).find((o) => o.holdsAt <= groups)
  }

  /** Whether it is still open that a fixed number on the same place holds for no more: that is cheaper to know. */
  private waits(option: Option): boolean {
    if (!option.candidate.policy) return false
    const groups = groupsForLeast(option)
    return this.fixedAt(option.place).some((o) => o.leastGroups <= groups)
  }

  /** The cost, per hour, from which on an option can not be ranked any more as far as is known; by its key. */
  private toBeat(): (key: string) => number {
    const byKey = new Map<string, number>(this.ranked.map((f) => [f.key, f.perHour]))
    for (const o of this.known) byKey.set(o.key, Math.min(byKey.get(o.key) ?? Infinity, knownCost(o)))
    const last = [...byKey.values()].sort((a, b) => a - b).at(this.goal - 1) ?? Infinity
    return (key) => Math.min(byKey.get(key) ?? Infinity, last)
  }

  /** Tries one number of each, after its busiest stretch where that is not known to hold: what misses there is not run over all. */
  private *tryAll(options: readonly Option[], toBeat: (key: string) => number): Steps<SearchProgress, void> {
    const tries = options.map((option): Try => ({ option, groups: nextTry(option, toBeat(option.key)) }))
    // At its limit the figures of a fixed number are wanted even when it misses.
    const missed = yield* this.missInStretch(
      tries.filter(({ option: { candidate }, groups }) => candidate.elastic || groups < candidate.maxGroups),
    )
    const left = tries.filter((t) => !missed.includes(t))
    if (left.length === 0) return
    const results = yield* this.order(left.map(({ option, groups }) => trialOrder(this.service, option.candidate, groups)))
    results.forEach((result, i) => this.take(left[i].option, left[i].groups, result))
  }

  /** Runs the busiest stretches of tries that nothing is known of; those that miss there are learnt of and given back. */
  private *missInStretch(tries: readonly Try[]): Steps<SearchProgress, Try[]> {
    const { stretches } = this
    // Calls are routed in a way of their own.
    const looked = tries.filter(({ option: { candidate } }) => !isByCall(candidate.purchase) && routesByState(candidate.service))
    if (!stretches) return []
    const unknown = new Map(
      looked
        .filter(({ option, groups }) => stretches.against(option.candidate, groups) === undefined)
        .map((t) => [`${stretchKey(t.option.candidate)} ${t.groups}`, t]),
    )
    if (unknown.size > 0) {
      const looks = [...unknown.values()]
      const results = yield* this.order(
        looks.map(({ option, groups }) => ({ ...trialOrder(this.service, option.candidate, groups), busiest: true })),
      )
      results.forEach((result, i) => stretches.learn(looks[i].option.candidate, looks[i].groups, result))
    }
    return looked.filter(({ option, groups }) => {
      const spoken = stretches.against(option.candidate, groups)
      if (spoken) this.take(option, Math.min(spoken.groups, option.candidate.maxGroups), spoken.result)
      return spoken
    })
  }

  /** Takes in what a try of the first repetition said. */
  private take(option: Option, groups: number, result: TrialResult): void {
    learn(option, groups, result)
    this.changed(option)
  }

  private changed(option: Option): void {
    if (option.holdsAt === Infinity) this.known.delete(option)
    else this.known.add(option)
    this.open.changed(option)
  }

  private *order(orders: TrialOrder[]): Steps<SearchProgress, TrialResult[]> {
    this.simulations += orders.length
    return yield* ordered(orders, this.progress())
  }

  private progress(): SearchProgress {
    const [proved] = this.ranked
    const open = proved ? { count: 0, least: proved.perHour } : this.counted.below(this.toBeat()(''), (o) => this.isOpen(o))
    const held = [...this.known].reduce<Option | undefined>((b, o) => (knownCost(o) < (b ? knownCost(b) : Infinity) ? o : b), undefined)
    const { service, candidates, simulations, likely } = this
    return progressOf({ service: service.name, candidates: candidates.length, simulations, open, proved, held, likely })
  }

  /**
   * Runs one repetition more of options whose first holds, the possibly cheapest first: what it costs may put one behind
   * others. Once all are known an option is confirmed, or in doubt.
   */
  private *confirm(options: readonly Option[]): Steps<SearchProgress, void> {
    const { repetitions } = this.ruleOut
    const unknown = options.filter((o) => o.held.length < repetitions)
    if (unknown.length > 0) {
      const results = yield* this.order(
        unknown.map((o) => ({ ...trialOrder(this.service, o.candidate, o.holdsAt), repetition: o.held.length, toTheEnd: true })),
      )
      results.forEach((result, i) => unknown[i].held.push(result))
    }
    for (const o of options) {
      if (o.held.length === repetitions) yield* this.judge(o)
      this.changed(o)
    }
  }

  /**
   * What all repetitions together say, and the worlds if they are asked; in doubt a fixed number needs a machine more, and a policy is out.
   */
  private *judge(option: Option): Steps<SearchProgress, void> {
    const targets = outcomesOf(this.plan, this.service, option.held)
    let doubtful = doubtOf(targets)
    if (!doubtful) {
      const worlds = this.certain && (yield* this.certain.judge(option, (orders) => this.order(orders)))
      if (!worlds?.missed) {
        option.confirmed = { ...foundOf(this.plan, option, targets), ...(worlds && { worlds: worlds.seen }) }
        return
      }
      doubtful = worlds.missed
    }
    doubt(option, doubtful)
    // Policies that it had ruled out are open again.
    for (const o of this.byPlace.get(option.place) ?? []) this.open.changed(o)
  }

  private rank(option: Option, found: Found): void {
    this.ranked.push(found)
    this.rankedKeys.set(option.key, found)
  }

  private rejection(option: Option): Rejection {
    return whyNot(option, this.rankedKeys.get(option.key), this.betterFixed(option), this.ranked.at(-1)?.perHour ?? 0)
  }
}
