import type { Requests } from '../demand/requests.ts'
import type { Plan } from '../plan/schema.ts'
import type { Errand } from './crew.ts'
import type { TrialResult } from './order.ts'
import { TrialRunner } from './trialRunner.ts'

/** What runs in the thread of a helper: carries out errands, and keeps the requests that it is told to keep. */
export class Errands {
  private readonly runner: TrialRunner
  private readonly kept = new Map<string, Requests>()

  constructor(plan: Plan) {
    this.runner = new TrialRunner(plan)
  }

  /** @throws Error when the requests were neither sent nor kept */
  run({ order, key, keep, requests }: Errand): TrialResult {
    const known = requests ?? this.kept.get(key)
    if (!known) throw new Error(`the requests "${key}" were not sent`)
    if (keep) this.kept.set(key, known)
    return this.runner.run(order, known)
  }
}
