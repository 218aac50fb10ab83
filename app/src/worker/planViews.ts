import {
  classShares,
  copiesNeeded,
  creditBetween,
  distribution,
  fitDetail,
  fitTable,
  happenings,
  isByTokens,
  laneSpans,
  loadTest,
  levers,
  meanSizes,
  Load,
  loadPicture,
  machinesNeeded,
  machineUse,
  neededWords,
  oneByOne,
  preparationOf,
  preparationWords,
  preventions,
  readings,
  strainOf,
  runLedger,
  sparing,
  targetsOf,
  tellRun,
  timeline,
  volumeCurves,
  waitLeft,
  worldsAndWorth,
  extremes,
  type ClassPicture,
  type Combination,
  type CopiesReport,
  type Comparison,
  type Distribution,
  type Measure,
  type Stretch,
  type FitDetail,
  type FitRow,
  type LateSums,
  type LeverReport,
  type LoadTest,
  type MachineUse,
  type Moment,
  type Plan,
  type PreventionProgress,
  type Pressing,
  type RequestLog,
  type Sized,
  type SparingReport,
  type TestedLoad,
  type VolumeReport,
  type WaitLeft,
  type WayBetween,
  type Rung,
  type WorldsAndWorth,
} from '@sandclock/core'
import { HeldRuns, type RunName } from './heldRuns.ts'
import type { Job } from './jobs.ts'
import { OneViews } from './oneViews.ts'
import type { RunView, MoneyView, PinnedRun, RunFigures } from './runViews.ts'

/** Happenings of a window beyond these are not told one by one. */
const MOST_TOLD = 100
/** Bad moments beyond these are not listed. */
const MOST_MOMENTS = 12

/** What the views show of one plan, apart from the search so that looking is never slowed by it. */
export class PlanViews extends OneViews {
  private readonly runs: HeldRuns
  /** the load of a plan that differs from this one, of the same log */
  private readonly loadOf: (plan: Plan) => Load

  constructor(plan: Plan, log: RequestLog | undefined) {
    const loadOf = (other: Plan) => new Load(other, log)
    const load = loadOf(plan)
    super(plan, load)
    this.loadOf = loadOf
    this.runs = new HeldRuns(plan, load)
  }

  /** What is looked at first of a plan: its load, and for every service what fits where. */
  pictures(pieces: number): { load: ClassPicture[]; fits: Record<string, FitRow[]> } {
    const { plan, load } = this
    return {
      load: loadPicture(plan, load.all(0), pieces),
      fits: Object.fromEntries(plan.services.map((s) => [s.name, fitTable(plan, s, load.of(s, 0))])),
    }
  }

  /** Everything behind one row of the table. */
  fitDetail(serviceName: string, at: Combination): FitDetail | undefined {
    const service = this.service(serviceName)
    return service && fitDetail(this.plan, service, at, this.load.of(service, 0))
  }

  /** What causes the difference between two combinations. */
  credit(serviceName: string, a: Combination, b: Combination, sequences: number): Comparison | undefined {
    const service = this.service(serviceName)
    return service && creditBetween(this.plan, service, a, b, meanSizes(this.load.of(service, 0)), sequences)
  }

  timeline(name: RunName, from: number, until: number, pieces: number): RunView | undefined {
    const held = this.runs.of(name)
    if (!held) return undefined
    const { observed, spec } = held
    const lanes = Math.max(1, held.picture?.replicas ?? held.replicas)
    const seen = timeline(observed.record, lanes, this.plan.classes.length, targetsOf(this.plan, spec.service), from, until, pieces)
    const byTokens = isByTokens(spec.candidate.purchase)
    const fleet = held.picture && { ...held.picture, spans: laneSpans(held.picture.spans, lanes, from, until, (until - from) / pieces) }
    const around = {
      startIso: this.plan.horizon.start,
      limitedBy: spec.candidate.limitedBy,
      late: (a: number, b: number) => held.late.between(a, b),
    }
    return {
      lanes,
      fleet,
      paid: held.paid,
      perHour: held.perHour,
      byTokens,
      // What is sold by tokens may take any number: full is as many as ever were.
      maxSequences: byTokens ? Math.ceil(seen.inService.reduce((a, b) => Math.max(a, b), 1)) : spec.candidate.sequences,
      replicas: held.replicas,
      moments: held.moments.slice(0, MOST_MOMENTS),
      told: observed.life ? happenings(observed.life, around, from, until).slice(0, MOST_TOLD) : [],
      reads: observed.life && observed.life.readings.seconds.length > 0 ? extremes(observed.life.readings, from, until, pieces) : null,
      timeline: seen,
    }
  }

  /** What a run says as a whole, and where its late requests of a window spent their time. */
  figures(name: RunName, from: number, until: number): RunFigures | undefined {
    const held = this.runs.of(name)
    if (!held) return undefined
    held.told ??= tellRun(this.plan, held.spec, held.observed)
    return { run: held.told.run, remarks: [...held.notes, ...held.told.remarks], late: held.observed.late.between(from, until) }
  }

  /** How long one measure took of the requests of a class, or of all, in a stretch. */
  distribution(name: RunName, className: string, measure: Measure, within: Stretch): Distribution | undefined {
    const held = this.runs.of(name)
    const at = this.plan.classes.findIndex((c) => c.service === name.service && c.name === className)
    return held && distribution(this.plan, held.observed.record, at, measure, within)
  }

  /** Where the late requests of a moment spent their time. */
  lateOf(name: RunName, { fromSeconds, untilSeconds }: Moment): LateSums | undefined {
    return this.runs.of(name)?.observed.late.between(fromSeconds, untilSeconds)
  }

  /** Begins to look for what would have prevented a moment. @returns the number to go on with, see `advance` */
  prevent(name: RunName, moment: Moment): Job<PreventionProgress> | undefined {
    const held = this.runs.of(name)
    if (!held) return undefined
    return this.jobs.begin(
      'prevent',
      preventions(this.plan, held.spec, this.load, { record: held.observed.record, life: held.observed.life }, moment),
    )
  }

  /** One step further; undefined when another of the same kind was begun meanwhile. */
  advance<T extends object>(number: Job<T>): (T & { done: boolean }) | undefined {
    return this.jobs.advance(number)
  }

  /** What has to be asked for, and to be done, before these run; a sentence an offer and a service. */
  needed(names: readonly RunName[]): string[] {
    const runs = names.flatMap((name) => this.runs.of(name) ?? [])
    const asked = machinesNeeded(runs.map(({ spec: { candidate, groups }, observed: { life } }) => ({ candidate, groups, life })))
    const prepared = runs.flatMap(({ spec: { candidate } }) => {
      const found = preparationOf(this.plan, candidate)
      return found ? [preparationWords(found, candidate.service.name, this.plan.currency)] : []
    })
    return [...neededWords(this.plan, asked), ...prepared]
  }

  /** How the machines of these runs are used over time, by offer. */
  machineUse(names: readonly RunName[]): MachineUse[] {
    const runs = names.flatMap((name) => this.runs.of(name) ?? [])
    return machineUse(
      this.plan,
      runs.map(({ spec: { candidate, groups }, observed: { life, meter } }) => ({ candidate, groups, life, meter })),
    )
  }

  /** Where the money of a run goes. */
  ledger(name: RunName): MoneyView | undefined {
    const held = this.runs.of(name)
    if (!held) return undefined
    const {
      spec: { service },
      observed,
    } = held
    const ledger = runLedger(this.plan, held.spec, observed, held)
    const shares = classShares(observed.record, this.plan.classes.length)
    return {
      ledger,
      classes: this.plan.classes.flatMap(({ name, service: of }, i) => (of === service.name ? [{ name, share: shares[i] }] : [])),
    }
  }

  /**
   * Begins to move one input after the other; where a run does not hold any more, others are tried.
   *
   * @returns the number to go on with, see `advance`
   */
  pull(name: RunName, others: readonly Sized[]): Job<LeverReport> | undefined {
    if (!this.runs.of(name)) return undefined
    return this.jobs.begin('pull', levers(this.plan, name.service, name, others, this.load, this.loadOf))
  }

  /** Begins to run it in one world after the other, as what the plan states may be otherwise, and then what it is worth to measure. */
  worlds(name: RunName & Rung, others: readonly Rung[]): Job<WorldsAndWorth> | undefined {
    if (!this.runs.of(name)) return undefined
    return this.jobs.begin('worlds', worldsAndWorth(this.plan, name.service, name, others, this.load))
  }

  /** How long it still is until a replica is ready, for who has waited so long; over all draws. */
  waitLeft(name: RunName): WaitLeft | undefined {
    const spec = this.runs.specOf(name)
    return spec && waitLeft(this.plan, spec, this.load)
  }

  /** Begins to count the copies for more load, one multiple after the other. @returns the number to go on with, see `advance` */
  copies(name: RunName): Job<CopiesReport> | undefined {
    const spec = this.runs.specOf(name)
    return spec && this.jobs.begin('copies', copiesNeeded(this.plan, spec, this.load))
  }

  /** Begins a load test on paper, one pressure after the other. @returns the number to go on with, see `advance` */
  loadTest(name: RunName, load: TestedLoad, pressing: Pressing): Job<LoadTest> | undefined {
    const spec = this.runs.specOf(name)
    return spec && this.jobs.begin('load test', loadTest(this.plan, spec, this.load, load, pressing))
  }

  /** Begins to spare cold callers, one way after the other. @returns the number to go on with, see `advance` */
  spare(name: RunName): Job<SparingReport> | undefined {
    const spec = this.runs.specOf(name)
    return spec && this.jobs.begin('spare', sparing(this.plan, spec, this.load))
  }

  /** Begins to lay machines that are there against calls, over the volume. @returns the number to go on with, see `advance` */
  volume(name: RunName, others: readonly Sized[]): Job<VolumeReport> | undefined {
    const spec = this.runs.specOf(name)
    const next = others.flatMap(({ option, machines }) => this.runs.specOf({ service: name.service, option, machines }) ?? [])
    return spec && this.jobs.begin('volume', volumeCurves(this.plan, spec, next, this.load, this.loadOf))
  }

  /** Begins to go from one run to another by one change at a time. @returns the number to go on with, see `advance` */
  between(a: RunName, b: RunName): Job<WayBetween> | undefined {
    const [from, to] = [this.runs.specOf(a), this.runs.specOf(b)]
    return from && to && this.jobs.begin('between', oneByOne(this.plan, from, to, this.load))
  }

  /** What a run is compared by; undefined when the plan has no such run. */
  pinned(name: RunName, pieces: number): PinnedRun | undefined {
    const held = this.runs.of(name)
    if (!held) return undefined
    const { observed, spec, perHour, paid } = held
    const placed = targetsOf(this.plan, spec.service)
    const end = this.plan.horizon.seconds
    const values = readings(this.plan, spec.service, observed.record)
    return {
      perHour,
      paid,
      ready: held.picture?.ready ?? { seconds: [0], values: [held.replicas] },
      promises: placed.map(({ className, target }, i) => ({
        className,
        target,
        value: values[i].value,
        strain: values[i].value === undefined ? 0 : strainOf(values[i].value ?? 0, target, this.plan.margin ?? 0),
        misses: values[i].misses,
      })),
      timeline: timeline(observed.record, 0, this.plan.classes.length, placed, 0, end, pieces),
    }
  }
}
