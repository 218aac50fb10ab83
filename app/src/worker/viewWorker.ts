import {
  candidateOf, creditBetween, fitDetail, fitTable, fleetPicture, happenings, hasLife, livingFleetOf, policyRemarks, meanSizes, Load, loadPicture, observedRun, profileOf, readRequestLog, targetsOf, tellRun, textOf, timeline,
  BadInput, type ClassPicture, type Combination, type Comparison, type FitDetail, type FitRow, type FleetPicture, type Happening, type LateSums, type Observed, type OptionName, type Plan, type Problem, type Profile, type RequestLog, type RunSummary, type Service, type Timeline,
} from '@sandclock/core'
import { expose } from 'comlink'

/** A log, or what is wrong with the file. */
export type LogReading = { ok: true; log: RequestLog } | { ok: false; message: string; problems: readonly Problem[] }

let plan: Plan | undefined
let load: Load | undefined
/** the last run, by what it was a run of */
let run: HeldRun | undefined

interface HeldRun {
  key: string
  service: Service
  profile: Profile
  observed: Observed
  picture: FleetPicture | null
  /** what a machine (or the machines over which a replica lies) costs */
  perMachineHour: number
  /** of the policy and of the start-up */
  notes: string[]
  told?: { run: RunSummary; remarks: string[] }
}

/** Happenings of a window beyond these are not told one by one. */
const MOST_TOLD = 200

/** A run in a window of time, as the Run view draws it. */
export interface RunView {
  timeline: Timeline
  /** rows of replicas */
  lanes: number
  /** how the fleet came and went; null for one that is there all the time */
  fleet: FleetPicture | null
  told: Happening[]
  perMachineHour: number
}

/** The figures of a run for a window of it. */
export interface RunFigures {
  run: RunSummary
  remarks: string[]
  late: LateSums
}

/** Simulates an option, unless it is the one that was simulated last. */
function runOf(serviceName: string, option: OptionName, replicas: number, machines: number): HeldRun | undefined {
  const service = plan?.services.find((s) => s.name === serviceName)
  if (!plan || !load || !service) return undefined
  const candidate = candidateOf(plan, service, option)
  if (!candidate) return undefined
  const key = JSON.stringify([serviceName, option, replicas])
  if (run?.key === key) return run
  const profile = profileOf(candidate)
  const fleet = hasLife(service, candidate) ? livingFleetOf(plan, service, candidate, Math.round(machines / candidate.group.machines), 0) : undefined
  const observed = observedRun(plan, service, profile, replicas, load.of(service, 0), fleet)
  const picture = observed.life ? fleetPicture(observed.life, plan.horizon.seconds) : null
  run = { key, service, profile, observed, picture, perMachineHour: candidate.machine.pricePerHour * candidate.group.machines, notes: policyRemarks(service, candidate) }
  return run
}

/** Computes what the views show, apart from the search so that looking is never slowed by it. */
const views = {
  setPlan(next: Plan, log: RequestLog | undefined): void {
    plan = next
    load = new Load(next, log)
    run = undefined
  },
  loadPicture(pieces: number): ClassPicture[] {
    return plan && load ? loadPicture(plan, load.all(0), pieces) : []
  },
  fitTable(serviceName: string): FitRow[] {
    const service = plan?.services.find((s) => s.name === serviceName)
    return plan && load && service ? fitTable(plan, service, load.of(service, 0)) : []
  },
  /** Everything behind one row of the table. */
  fitDetail(serviceName: string, at: Combination): FitDetail | undefined {
    const service = plan?.services.find((s) => s.name === serviceName)
    return plan && load && service ? fitDetail(plan, service, at, load.of(service, 0)) : undefined
  },
  /** What causes the difference between two combinations. */
  credit(serviceName: string, a: Combination, b: Combination, sequences: number): Comparison | undefined {
    const service = plan?.services.find((s) => s.name === serviceName)
    return plan && load && service ? creditBetween(plan, service, a, b, meanSizes(load.of(service, 0)), sequences) : undefined
  },
  timeline(serviceName: string, option: OptionName, replicas: number, machines: number, from: number, until: number, pieces: number): RunView | undefined {
    const held = runOf(serviceName, option, replicas, machines)
    if (!plan || !held) return undefined
    const lanes = Math.max(1, held.picture?.replicas ?? replicas)
    const fleet = held.picture && { ...held.picture, spans: held.picture.spans.filter((s) => s.until > from && s.from < until) }
    const told = held.observed.life ? happenings(held.observed.life, plan.horizon.start, from, until).slice(0, MOST_TOLD) : []
    return { lanes, fleet, told, perMachineHour: held.perMachineHour, timeline: timeline(held.observed.record, lanes, plan.classes.length, targetsOf(plan, held.service), from, until, pieces) }
  },
  /** What the run of an option says as a whole, and where its late requests of a window spent their time. */
  figures(serviceName: string, option: OptionName, replicas: number, machines: number, from: number, until: number): RunFigures | undefined {
    const held = runOf(serviceName, option, replicas, machines)
    if (!plan || !held) return undefined
    held.told ??= tellRun(plan, held.service, held.profile, replicas, held.observed)
    return { run: held.told.run, remarks: [...held.notes, ...held.told.remarks], late: held.observed.late.between(from, until) }
  },
  readLog(bytes: Uint8Array, name: string): LogReading {
    try {
      return { ok: true, log: readRequestLog(textOf(bytes, name, (b) => new TextDecoder().decode(b)), name) }
    } catch (error) {
      if (error instanceof BadInput) return { ok: false, message: error.message, problems: error.problems }
      throw error
    }
  },
}

export type ViewWorker = typeof views
expose(views)
