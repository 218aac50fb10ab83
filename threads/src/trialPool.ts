import { serviceOf, trialsHere, type Errand, type Load, type Plan, type TrialOrder, type TrialResult, type Trials } from '@sandclock/core'
import { availableParallelism } from 'node:os'
import { Piscina } from 'piscina'
import { solver } from './solver.ts'

const MOST_THREADS = 8
/** An order that costs so many threads their lives is given up. */
const MOST_DEATHS = 3

/** What a thread answers: what is wrong with an order is an answer too, so that only the end of a thread is a failure. */
export type Reply = { ok: true; result: TrialResult } | { ok: false; message: string }

const solve: Trials['solve'] = async (problem) => (await solver())(problem)

/** As many threads as are worth while here. */
export function usualThreads(): number {
  return Math.min(MOST_THREADS, availableParallelism())
}

/**
 * Threads that carry out the orders of a search. Requests are made once, in this thread, in memory that all of them
 * read. The pool replaces a thread that dies; its order is done anew.
 *
 * @param load with shared memory (`SharedArrayBuffer`) when there are several threads
 * @param worker the module that carries out errands: `trialWorker.ts`, which programs bundle beside themselves
 */
export function trialPool(plan: Plan, load: Load, threads: number, worker = new URL('./trialWorker.mjs', import.meta.url)): Trials {
  if (threads === 1) {
    const run = trialsHere(load)
    return { run: (order) => Promise.resolve(run(order)), solve, stop: () => Promise.resolve() }
  }
  const pool = new Piscina<Errand, Reply>({ filename: worker.href, minThreads: threads, maxThreads: threads, workerData: plan })
  return {
    run: async (order) => {
      const reply = await redone(() => pool.run(errand(plan, load, order)))
      if (!reply.ok) throw new Error(reply.message)
      return reply.result
    },
    solve,
    stop: () => pool.destroy(),
  }
}

/** Any thread may take it, so that the requests go along; being shared they are not copied. */
function errand(plan: Plan, load: Load, order: TrialOrder): Errand {
  return { order, key: '', keep: false, requests: load.forOrder(serviceOf(plan, order), order) }
}

async function redone<T>(work: () => Promise<T>): Promise<T> {
  for (let deaths = 1; ; deaths++) {
    try {
      return await work()
    } catch (error) {
      if (deaths >= MOST_DEATHS || !isDeath(error)) throw error
    }
  }
}

/** Out of memory, or ended: not that the pool was closed. */
function isDeath(error: unknown): boolean {
  return error instanceof Error && (/worker exited/.test(error.message) || ('code' in error && error.code === 'ERR_WORKER_OUT_OF_MEMORY'))
}
