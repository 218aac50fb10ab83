import { HelperDied, type Errand, type Helper, type Plan, type TrialResult } from '@sandclock/core'
import { wrap, type Remote } from 'comlink'
import type { Trials } from './trialWorker.ts'

/** A thread that carries out trials, for one search after the other: it keeps what it has learned to do quickly. */
interface Thread {
  remote: Remote<Trials>
  /** rejects when the thread is gone, however it went; never resolves */
  death: Promise<never>
  dead: boolean
  end: () => void
}

/** Threads that searches borrow. One that is given back while it is busy finishes what it has before it begins anew. */
export class HelperPool {
  private readonly idle: Thread[] = []

  borrow(plan: Plan): Helper {
    const thread = this.idle.pop() ?? startThread()
    const ready = thread.remote.setUp(plan)
    ready.catch(() => undefined) // told where it is waited for
    let mine = true
    return {
      run: async (errand: Errand): Promise<TrialResult> => {
        await Promise.race([ready, thread.death])
        return Promise.race([thread.remote.run(errand), thread.death])
      },
      end: () => {
        if (mine && !thread.dead) this.idle.push(thread)
        mine = false
      },
    }
  }
}

/**
 * A thread holds a named lock while it lives: when the lock can be had, it is gone, however it went. Where the browser has
 * no locks only errors that it reports tell of its end.
 */
function startThread(): Thread {
  const worker = new Worker(new URL('./trialWorker.ts', import.meta.url), { type: 'module' })
  const remote = wrap<Trials>(worker)
  const lock = `sand-clock helper ${performance.timeOrigin} ${Math.random()}`
  const ended = new AbortController()
  const thread: Thread = {
    remote,
    dead: false,
    death: new Promise<never>((_, reject) => {
      const die = (why: string) => {
        thread.dead = true
        ended.abort()
        worker.terminate()
        reject(new HelperDied(why))
      }
      worker.addEventListener('error', (event) => die(event.message || 'a worker of the search ended'))
      remote
        .hold(lock)
        .then(() => noticeEnd(lock, ended.signal))
        .then(
          () => die('a worker of the search ended'),
          () => undefined,
        )
    }),
    end: () => worker.terminate(),
  }
  thread.death.catch(() => undefined) // nobody may be waiting for it when it happens
  return thread
}

/** Waits until a lock can be had; never comes back where there are none. */
function noticeEnd(lock: string, signal: AbortSignal): Promise<void> {
  if (!('locks' in navigator)) return new Promise(() => undefined)
  return navigator.locks.request(lock, { signal }, () => undefined)
}
