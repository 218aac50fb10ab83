import { HelperDied, type Helper, type Plan } from '@sandclock/core'
import { wrap } from 'comlink'
import type { Trials } from './trialWorker.ts'

/**
 * Starts a worker of its own for a crew. It holds a named lock while it lives: when the lock can be had, it is gone,
 * however it went. Where the browser has no locks only errors that it reports tell of its end.
 */
export function startHelper(plan: Plan): Helper {
  const worker = new Worker(new URL('./trialWorker.ts', import.meta.url), { type: 'module' })
  const remote = wrap<Trials>(worker)
  const lock = `sand-clock helper ${performance.timeOrigin} ${Math.random()}`
  const ended = new AbortController()
  const ready = remote.setUp(plan, lock)
  const death = new Promise<never>((_, reject) => {
    worker.addEventListener('error', (event) => reject(new HelperDied(event.message || 'a worker of the search ended')))
    ready.then(() => noticeEnd(lock, ended.signal)).then(() => reject(new HelperDied('a worker of the search ended')), () => undefined)
  })
  death.catch(() => undefined) // nobody may be waiting for it when it happens
  return {
    run: async (errand) => {
      await Promise.race([ready, death])
      return Promise.race([remote.run(errand), death])
    },
    end: () => {
      ended.abort()
      worker.terminate()
    },
  }
}

/** Waits until a lock can be had; never comes back where there are none. */
function noticeEnd(lock: string, signal: AbortSignal): Promise<void> {
  if (!('locks' in navigator)) return new Promise(() => undefined)
  return navigator.locks.request(lock, { signal }, () => undefined)
}
