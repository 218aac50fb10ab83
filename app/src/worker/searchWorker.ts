import { driveElsewhere, frontier, frontierOptions, Load, recommend, type Answer, type FrontierPoint, type Plan, type RecommendProgress, type RequestLog, type ServiceAnswer, type TrialOrder, type TrialResult } from '@sandclock/core'
import { expose, wrap, type Remote } from 'comlink'
import type { Trials } from './trialWorker.ts'

const MOST_WORKERS = 6

/** Leads a search: asks its helpers for trials and tells the page how far it is. Ending this worker ends the helpers. */
const search = {
  async recommend(plan: Plan, log: RequestLog | undefined, onProgress: (p: RecommendProgress) => void): Promise<Answer> {
    const run = await helpers(plan, log)
    return driveElsewhere(recommend(plan, new Load(plan, log)), run, onProgress)
  },
  async frontier(plan: Plan, log: RequestLog | undefined, answer: ServiceAnswer, onPoints: (points: FrontierPoint[]) => void): Promise<FrontierPoint[]> {
    const service = plan.services.find((s) => s.name === answer.service)
    if (!service) return []
    const run = await helpers(plan, log)
    return driveElsewhere(frontier(plan, service, frontierOptions(answer)), run, onPoints)
  },
}

/** Starts the helpers and gives a function that hands each order to whichever is free. */
async function helpers(plan: Plan, log: RequestLog | undefined): Promise<(order: TrialOrder) => Promise<TrialResult>> {
  const count = Math.min(MOST_WORKERS, Math.max(1, navigator.hardwareConcurrency - 1))
  const free: Remote<Trials>[] = []
  const waiting: ((helper: Remote<Trials>) => void)[] = []
  const release = (helper: Remote<Trials>) => {
    const next = waiting.shift()
    if (next) next(helper)
    else free.push(helper)
  }
  for (let i = 0; i < count; i++) {
    const helper = wrap<Trials>(new Worker(new URL('./trialWorker.ts', import.meta.url), { type: 'module' }))
    await helper.setUp(plan, log)
    free.push(helper)
  }
  return async (order) => {
    const helper = free.pop() ?? (await new Promise<Remote<Trials>>((resolve) => waiting.push(resolve)))
    try {
      return await helper.run(order)
    } finally {
      release(helper)
    }
  }
}

export type SearchWorker = typeof search
expose(search)
