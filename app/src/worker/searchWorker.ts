import { Crew, driveElsewhere, frontier, frontierOptions, Load, recommend, type Answer, type FrontierPoint, type Plan, type RecommendProgress, type RequestLog, type ServiceAnswer } from '@sandclock/core'
import { expose } from 'comlink'
import { startHelper } from './helper.ts'

/** Leads a search: asks its helpers for trials and tells the page how far it is. Ending this worker ends the helpers. */
const search = {
  async recommend(plan: Plan, log: RequestLog | undefined, helpers: number, onProgress: (p: RecommendProgress) => void): Promise<Answer> {
    const load = sharedLoad(plan, log)
    return driveElsewhere(recommend(plan, load), crewFor(load, helpers), onProgress)
  },
  async frontier(plan: Plan, log: RequestLog | undefined, helpers: number, answer: ServiceAnswer, onPoints: (points: FrontierPoint[]) => void): Promise<FrontierPoint[]> {
    const service = plan.services.find((s) => s.name === answer.service)
    if (!service) return []
    return driveElsewhere(frontier(plan, service, frontierOptions(answer)), crewFor(sharedLoad(plan, log), helpers), onPoints)
  },
}

/** Requests in memory that all helpers read, where the page is isolated; elsewhere each gets a copy. */
function sharedLoad(plan: Plan, log: RequestLog | undefined): Load {
  return new Load(plan, log, self.crossOriginIsolated ? SharedArrayBuffer : ArrayBuffer)
}

function crewFor(load: Load, helpers: number): Crew {
  return new Crew(() => startHelper(load.plan), helpers, load)
}

export type SearchWorker = typeof search
expose(search)
