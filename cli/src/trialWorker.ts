import { Load, TrialRunner, type TrialOrder, type TrialResult } from '@sandclock/core'
import { workerData } from 'node:worker_threads'
import type { TrialSetup } from './pool.ts'

let runner: TrialRunner | undefined

/** Carries out one order; the load is made once in each thread. */
export default function run(order: TrialOrder): TrialResult {
  if (!runner) {
    const { plan, log } = setup()
    runner = new TrialRunner(plan, new Load(plan, log))
  }
  return runner.run(order)
}

/** The pool wraps what it was given as worker data into a pair with data of its own. */
function setup(): TrialSetup {
  const wrapped = workerData as [unknown, TrialSetup] // the pool's documented shape
  return wrapped[1]
}
