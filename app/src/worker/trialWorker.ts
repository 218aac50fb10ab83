import { Load, TrialRunner, type Plan, type RequestLog, type TrialOrder, type TrialResult } from '@sandclock/core'
import { expose } from 'comlink'

let runner: TrialRunner | undefined

/** Carries out the orders of one search; one of several. */
const trials = {
  setUp(plan: Plan, log: RequestLog | undefined): void {
    runner = new TrialRunner(plan, new Load(plan, log))
  },
  run(order: TrialOrder): TrialResult {
    if (!runner) throw new Error('an order came before the plan')
    return runner.run(order)
  },
}

export type Trials = typeof trials
expose(trials)
