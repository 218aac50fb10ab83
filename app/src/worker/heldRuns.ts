import {
  altered, badMoments, candidateOf, costPerHour, fleetOf, fleetPicture, hasLife, LateArrivals, livingFleetOf, observedRun, paidSeries, billOf, bestCommitted, committedOfSteady, runPerHours, policyRemarks, profileOf, targetsOf,
  type Alteration, type BadMoment, type FleetPicture, type StepSeries, type Load, type Observed, type OptionName, type Plan, type Profile, type RunSpec, type RunSummary,
} from '@sandclock/core'

/** What is run: an option of a service with its machines, and possibly one thing that is different. */
export interface RunName {
  service: string
  option: OptionName
  machines: number
  alteration?: Alteration
}

/** A run with everything that views ask of it. */
export interface HeldRun {
  key: string
  spec: RunSpec
  profile: Profile
  replicas: number
  observed: Observed
  picture: FleetPicture | null
  /** what is paid an hour, over time and on average, and groups of machines that are committed to */
  paid: StepSeries
  perHour: number
  committedGroups: number
  moments: BadMoment[]
  late: LateArrivals
  /** of the policy and of the start-up */
  notes: string[]
  told?: { run: RunSummary; remarks: string[] }
}

/** Four that are compared, and one that was looked at before. */
const MOST_HELD = 5

/** The runs of a plan that were simulated last. */
export class HeldRuns {
  private readonly plan: Plan
  private readonly load: Load
  private held: HeldRun[] = []

  constructor(plan: Plan, load: Load) {
    this.plan = plan
    this.load = load
  }

  /** Simulates a run, unless it is among those that are held; undefined when the plan has no such run. */
  of(name: RunName): HeldRun | undefined {
    const key = JSON.stringify(name)
    const known = this.held.find((h) => h.key === key)
    const run = known ?? this.simulated(key, name)
    if (run) this.held = [run, ...this.held.filter((h) => h !== run)].slice(0, MOST_HELD)
    return run
  }

  /** What a name means in the plan; undefined when it has no such run. */
  specOf({ service: serviceName, option, machines, alteration }: RunName): RunSpec | undefined {
    const { plan } = this
    const service = plan.services.find((s) => s.name === serviceName)
    const named = service && candidateOf(plan, service, option)
    if (!named?.fit.fits) return undefined
    // What a policy may have follows from the policy as it stands, which may have been changed since the search.
    const groups = named.elastic ? named.maxGroups : Math.round(machines / named.group.machines)
    const given: RunSpec = { service: named.service, candidate: named, groups }
    return alteration ? altered(plan, given, alteration) : given
  }

  private simulated(key: string, name: RunName): HeldRun | undefined {
    const { plan, load } = this
    const spec = this.specOf(name)
    if (!spec) return undefined
    const { candidate } = spec
    const profile = profileOf(candidate)
    const { replicas } = fleetOf(candidate, spec.groups)
    const fleet = hasLife(candidate) ? livingFleetOf(plan, candidate, spec.groups, 0) : undefined
    const observed = observedRun(plan, spec.service, profile, replicas, load.of(spec.service, 0), fleet)
    const placed = targetsOf(plan, spec.service)
    const end = plan.horizon.seconds
    return {
      key, spec, profile, replicas, observed,
      picture: observed.life ? fleetPicture(observed.life, end) : null,
      ...paidOf(spec, observed, end),
      moments: badMoments(observed.record, placed, end, this.plan.horizon.warmupSeconds),
      late: new LateArrivals(observed.record, placed, this.plan.horizon.warmupSeconds),
      notes: policyRemarks(spec.service, candidate),
    }
  }
}

function paidOf({ candidate, groups }: RunSpec, { life, record }: Observed, endSeconds: number): Pick<HeldRun, 'paid' | 'perHour' | 'committedGroups'> {
  if (!life || !candidate.paysByRun) {
    const perHour = costPerHour(candidate, groups)
    return { perHour, paid: { seconds: [0], values: [perHour] }, committedGroups: committedOfSteady(candidate, groups) }
  }
  const { committedGroups, perHour } = bestCommitted([runPerHours(candidate, record, life, endSeconds)], candidate.prices)
  // Calls are paid one by one: what is shown is their mean.
  if (candidate.purchase.kind === 'per-request') return { perHour, committedGroups, paid: { seconds: [0], values: [perHour] } }
  return { perHour, committedGroups, paid: paidSeries(billOf(candidate, life, endSeconds, committedGroups), candidate) }
}
