import { leastOfGroup } from '../cost/bill.ts'
import { isByCall } from '../cost/purchase.ts'
import { callsPerHour } from '../cost/calls.ts'
import type { Plan, Service } from '../plan/schema.ts'
import type { Fit } from '../service/fit.ts'
import type { Profile } from '../service/profile.ts'
import { demandOf, type Demand } from './demanded.ts'
import { hopeless, slack, type Hopeless } from './hopeless.ts'
import { leastAwakeSeconds } from './leastAwake.ts'
import { leastBusySeconds } from './leastBusy.ts'
import { fleetOf, profileOf, type Candidate } from '../candidate/candidate.ts'
import { readyAt } from '../run/readyAt.ts'
import type { Load } from './load.ts'
import { refusalOf } from './refusal.ts'
import type { Rejection } from './rejection.ts'

/** What is known of a candidate without a simulation. */
type Judged = RuledOut | { rejection: null; leastStrain: number; profile: Profile; leastGroups: number }

interface RuledOut {
  rejection: Rejection
  /** see `Rejected` */
  leastStrain: number | null
}

interface PlaceKnown {
  profile: Profile
  leastStrain: number
  never: Hopeless | undefined
}

const ruledOut = (rejection: Rejection, leastStrain: number | null): RuledOut => ({ rejection, leastStrain })

/** What is known of a service's candidates before any of them is simulated. */
export class RuleOut {
  readonly repetitions: number
  private readonly plan: Plan
  private readonly service: Service
  private readonly load: Load
  /** of each repetition, those after the first once they are wanted */
  private readonly demands: Demand[]
  private readonly awake = new Map<string, number>()
  private readonly places = new Map<Fit, Map<number, PlaceKnown>>()
  private readonly busy = new Map<Profile, number[]>()

  constructor(plan: Plan, service: Service, load: Load) {
    this.plan = plan
    this.service = service
    this.load = load
    this.demands = [demandOf(plan, service, load.of(service, 0))]
    this.repetitions = load.repetitions(service)
  }

  /** Draws the repetitions after the first, so that they bound what is paid as well. */
  drawAll(): void {
    for (let r = this.demands.length; r < this.repetitions; r++)
      this.demands.push(demandOf(this.plan, this.service, this.load.of(this.service, r)))
  }

  /** What rules a candidate out without a simulation; else its profile and the least number of groups. */
  judge(candidate: Candidate): Judged {
    const { maxGroups, limitedBy } = candidate
    const refusal = refusalOf(candidate)
    if (refusal && !candidate.fit.fits) return ruledOut(refusal, null)
    const { profile, leastStrain, never } = this.ofPlace(candidate)
    if (refusal) return ruledOut(refusal, leastStrain)
    if (never) return ruledOut({ kind: 'hopeless', hopeless: never }, leastStrain)
    const least = this.leastGroups(candidate, profile)
    if (least > maxGroups)
      return ruledOut(
        {
          kind: 'work',
          machinesNeeded: fleetOf(candidate, least).machines,
          maxMachines: fleetOf(candidate, maxGroups).machines,
          limitedBy,
        },
        leastStrain,
      )
    // Who drains and who replaces it may work at the same time: the work alone does not bound the number then.
    return { rejection: null, leastStrain, profile, leastGroups: candidate.paysByRun && !candidate.elastic ? 1 : least }
  }

  /** What policies and ways of paying do not matter to. */
  private ofPlace(candidate: Candidate): PlaceKnown {
    const bySequences = this.places.get(candidate.fit) ?? new Map<number, PlaceKnown>()
    this.places.set(candidate.fit, bySequences)
    const known = bySequences.get(candidate.sequences)
    if (known) return known
    const profile = profileOf(candidate)
    const leastStrain = 1 / slack(this.demands[0], profile)
    const found = { profile, leastStrain, never: leastStrain > 1 ? hopeless(this.demands[0], profile) : undefined }
    bySequences.set(candidate.sequences, found)
    return found
  }

  /**
   * Where what is paid depends on the run, the least of each repetition whose work is known, per hour: that work, however it
   * is spread; of a policy its minimum all the time, as far as it can be had, and when it sleeps the time in which it has
   * callers. Empty elsewhere.
   */
  leastPaid(candidate: Candidate, profile: Profile): number[] {
    if (!candidate.paysByRun) return []
    return Array.from({ length: this.repetitions }, (_, r) =>
      isByCall(candidate.purchase) ? this.leastOfCalls(candidate, profile, r) : this.leastOfMachines(candidate, profile, r),
    )
  }

  private leastOfMachines(candidate: Candidate, profile: Profile, repetition: number): number {
    const { policy, group, maxGroups } = candidate
    const { seconds } = this.plan.horizon
    const byMinimum = policy ? Math.min(maxGroups, Math.ceil(policy.min / group.replicas)) : 0
    const awake = policy?.idle ? this.awakeSeconds(repetition, policy.idle.seconds) / seconds : 0
    return leastOfGroup(candidate) * Math.max(byMinimum, this.busySeconds(profile, repetition) / (seconds * group.replicas), awake)
  }

  /** Every call that must be served is paid, and its time; what rounding adds is not known. */
  private leastOfCalls({ prices: { calls } }: Candidate, profile: Profile, repetition: number): number {
    const demand = this.demands.at(repetition)
    if (!calls || !demand) return 0
    return callsPerHour(
      { calls: demand.requests, busySeconds: this.busySeconds(profile, repetition), startSeconds: 0 },
      calls,
      this.plan.horizon.seconds,
    )
  }

  private busySeconds(profile: Profile, repetition: number): number {
    const demand = this.demands.at(repetition)
    if (!demand) return 0
    const known = this.busy.get(profile) ?? []
    this.busy.set(profile, known)
    return (known[repetition] ??= leastBusySeconds(demand, profile))
  }

  private awakeSeconds(repetition: number, idleSeconds: number): number {
    const key = `${repetition} ${idleSeconds}`
    const known = this.awake.get(key) ?? leastAwakeSeconds(this.load.of(this.service, repetition), idleSeconds, this.plan.horizon.seconds)
    this.awake.set(key, known)
    return known
  }

  private leastGroups(candidate: Candidate, profile: Profile): number {
    // Stages and their spread may be passed quickly: nothing is taken off for them.
    const startup = this.service.start || candidate.elastic ? 0 : readyAt(this.plan, this.service)
    const seconds = Math.max(1e-9, this.plan.horizon.seconds - startup)
    const replicas = Math.ceil(this.busySeconds(profile, 0) / seconds - 1e-9)
    return Math.max(1, Math.ceil(replicas / candidate.group.replicas))
  }
}
