import {
  badMoments,
  fleetOf,
  fleetPicture,
  LateArrivals,
  observedRun,
  paidRun,
  policyRemarks,
  specOf,
  targetsOf,
  type Alteration,
  type BadMoment,
  type FleetPicture,
  type Load,
  type Observed,
  type OptionName,
  type PaidRun,
  type Plan,
  type RunSpec,
  type RunSummary,
} from '@sandclock/core'

/** What is run: an option of a service with its machines, and possibly one thing that is different. */
export interface RunName {
  service: string
  option: OptionName
  machines: number
  alteration?: Alteration
}

/** A run with everything that views ask of it. */
export interface HeldRun extends PaidRun {
  key: string
  spec: RunSpec
  replicas: number
  observed: Observed
  picture: FleetPicture | null
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
  specOf({ service, option, machines, alteration }: RunName): RunSpec | undefined {
    return specOf(this.plan, service, option, machines, alteration)
  }

  private simulated(key: string, name: RunName): HeldRun | undefined {
    const { plan, load } = this
    const spec = this.specOf(name)
    if (!spec) return undefined
    const { service, candidate } = spec
    const { seconds, warmupSeconds } = plan.horizon
    const observed = observedRun(plan, spec, load.of(service, 0))
    const placed = targetsOf(plan, service)
    return {
      key,
      spec,
      observed,
      replicas: fleetOf(candidate, spec.groups).replicas,
      picture: observed.life ? fleetPicture(observed.life, seconds) : null,
      ...paidRun(plan, spec, observed),
      moments: badMoments(observed.record, placed, seconds, warmupSeconds),
      late: new LateArrivals(observed.record, placed, warmupSeconds),
      notes: policyRemarks(service, candidate),
    }
  }
}
