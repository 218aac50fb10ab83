import { wrap, type Remote } from 'comlink'
import type { SearchWorker } from './searchWorker.ts'
import type { ViewWorker } from './viewWorker.ts'

/** A worker with the way to end it and everything that it started. */
export interface Held<T> {
  remote: Remote<T>
  end: () => void
}

const MOST_HELPERS = 6

/** Helpers of a search: one a core where there are few, all but one where there are more; the page itself has little to do meanwhile. */
export function helperCount(): number {
  return Math.min(MOST_HELPERS, Math.max(2, navigator.hardwareConcurrency - 1))
}

let lead: Held<SearchWorker> | undefined

/** The worker that leads searches, with its helpers; the same for one search after the other. */
export function searchLead(): Held<SearchWorker> {
  if (lead) return lead
  const worker = new Worker(new URL('./searchWorker.ts', import.meta.url), { type: 'module' })
  lead = { remote: wrap<SearchWorker>(worker), end: () => worker.terminate() }
  return lead
}

/** Ends it and its helpers at once; the next search starts others. */
export function endSearchLead(): void {
  lead?.end()
  lead = undefined
}

export function startViewWorker(): Held<ViewWorker> {
  const worker = new Worker(new URL('./viewWorker.ts', import.meta.url), { type: 'module' })
  return { remote: wrap<ViewWorker>(worker), end: () => worker.terminate() }
}
