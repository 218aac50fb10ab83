import { wrap, type Remote } from 'comlink'
import type { SearchWorker } from './searchWorker.ts'
import type { ViewWorker } from './viewWorker.ts'

/** A worker with the way to end it and everything that it started. */
export interface Held<T> {
  remote: Remote<T>
  end: () => void
}

const MOST_HELPERS = 6

/** Helpers of a search: all cores but one, which is left to the page. */
export function helperCount(): number {
  return Math.min(MOST_HELPERS, Math.max(1, navigator.hardwareConcurrency - 1))
}

export function startSearchWorker(): Held<SearchWorker> {
  const worker = new Worker(new URL('./searchWorker.ts', import.meta.url), { type: 'module' })
  return { remote: wrap<SearchWorker>(worker), end: () => worker.terminate() }
}

export function startViewWorker(): Held<ViewWorker> {
  const worker = new Worker(new URL('./viewWorker.ts', import.meta.url), { type: 'module' })
  return { remote: wrap<ViewWorker>(worker), end: () => worker.terminate() }
}
