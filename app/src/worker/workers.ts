import { wrap, type Remote } from 'comlink'
import type { SearchWorker } from './searchWorker.ts'
import type { ViewWorker } from './viewWorker.ts'

/** A worker with the way to end it and everything that it started. */
export interface Held<T> {
  remote: Remote<T>
  end: () => void
}

export function startSearchWorker(): Held<SearchWorker> {
  const worker = new Worker(new URL('./searchWorker.ts', import.meta.url), { type: 'module' })
  return { remote: wrap<SearchWorker>(worker), end: () => worker.terminate() }
}

export function startViewWorker(): Held<ViewWorker> {
  const worker = new Worker(new URL('./viewWorker.ts', import.meta.url), { type: 'module' })
  return { remote: wrap<ViewWorker>(worker), end: () => worker.terminate() }
}
