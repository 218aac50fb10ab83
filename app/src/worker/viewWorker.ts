import {
  candidateOf, fitTable, Load, loadPicture, profileOf, readRequestLog, rulesFor, simulate, targetsOf, textOf, timeline,
  BadInput, type ClassPicture, type FitRow, type OptionName, type Plan, type Problem, type RequestLog, type RunRecord, type Timeline,
} from '@sandclock/core'
import { expose } from 'comlink'

/** A log, or what is wrong with the file. */
export type LogReading = { ok: true; log: RequestLog } | { ok: false; message: string; problems: readonly Problem[] }

let plan: Plan | undefined
let load: Load | undefined
/** the last run, by what it was a run of */
let run: { key: string; record: RunRecord } | undefined

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
  timeline(serviceName: string, option: OptionName, replicas: number, from: number, until: number, pieces: number): Timeline | undefined {
    const service = plan?.services.find((s) => s.name === serviceName)
    if (!plan || !load || !service) return undefined
    const candidate = candidateOf(plan, service, option)
    if (!candidate) return undefined
    const key = JSON.stringify([serviceName, option, replicas])
    if (run?.key !== key) run = { key, record: simulate(load.of(service, 0), rulesFor(plan, service, profileOf(candidate), replicas)) }
    return timeline(run.record, replicas, plan.classes.length, targetsOf(plan, service), from, until, pieces)
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
