import { TrialRunner, Load, type Plan, type RequestLog, type TrialOrder, type TrialResult } from '@sandclock/core'
import { availableParallelism } from 'node:os'
import { Tinypool } from 'tinypool'

/** What a worker needs to know before it can carry out orders. */
export interface TrialSetup {
  plan: Plan
  log: RequestLog | undefined
}

const MOST_THREADS = 8

/** Threads that carry out the orders of a search. */
export function trialPool(setup: TrialSetup): { run: (order: TrialOrder) => Promise<TrialResult>; close: () => Promise<void> } {
  const threads = Math.min(MOST_THREADS, availableParallelism())
  if (threads === 1) {
    const runner = new TrialRunner(setup.plan, new Load(setup.plan, setup.log))
    return { run: (order) => Promise.resolve(runner.run(order)), close: () => Promise.resolve() }
  }
  const pool = new Tinypool({
    filename: new URL('./trialWorker.mjs', import.meta.url).href,
    runtime: 'worker_threads',
    minThreads: threads,
    maxThreads: threads,
    isolateWorkers: false,
    workerData: setup,
  })
  return { run: (order) => pool.run(order) as Promise<TrialResult>, close: () => pool.destroy() } // the worker answers with what TrialRunner.run gives
}
