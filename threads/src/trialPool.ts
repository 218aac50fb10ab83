import { serviceOf, trialsHere, type Errand, type Load, type Plan, type TrialOrder, type TrialResult, type Trials } from '@sandclock/core'
import { createHash } from 'node:crypto'
import { availableParallelism } from 'node:os'
import { Piscina } from 'piscina'
import { solver } from './solver.ts'

const MOST_THREADS = 8
/** An order that costs so many threads their lives is given up. */
const MOST_DEATHS = 3

/** What a thread answers: what is wrong with an order is an answer too, so that only the end of a thread is a failure. */
export type Reply = { ok: true; result: TrialResult } | { ok: false; message: string }

/**
 * What a thread gets: an errand, the plan that it belongs to as shared bytes of its text, which are read once, and whether anybody still
 * wants it.
 */
export interface Task {
  errand: Errand
  planKey: string
  planText: SharedArrayBuffer
  /** 1 once the search was stopped */
  stopped: SharedArrayBuffer
}

const solve: Trials['solve'] = async (problem) => (await solver())(problem)

/** As many threads as are worth while here. */
export function usualThreads(): number {
  return Math.min(MOST_THREADS, availableParallelism())
}

/**
 * Threads that carry out the orders of searches, of one after the other or of several at once: a program that ended its
 * threads with every search would never get all of their memory back. One that dies is replaced; its order is done anew.
 */
export class TrialThreads {
  private readonly pool: Piscina<Task, Reply>
  private ended = false

  /** @param worker the module that carries out errands: `trialWorker.ts`, which programs bundle beside themselves */
  constructor(threads: number, worker = new URL('./trialWorker.mjs', import.meta.url)) {
    this.pool = new Piscina<Task, Reply>({ filename: worker.href, minThreads: threads, maxThreads: threads })
    this.pool.on('error', (error) => {
      // A reply that was on its way when the threads were ended is to nobody any more, and no error.
      if (!this.ended) throw error
    })
  }

  /**
   * Trials of one search. Requests are made once, in this thread, in memory that all of them read. Once they are stopped
   * nothing more is begun; what a thread is at goes on to its end, and nobody waits for it.
   *
   * @param load with shared memory (`SharedArrayBuffer`)
   */
  trials(plan: Plan, load: Load): Trials {
    const plain = sharedText(plan)
    const stopped = new SharedArrayBuffer(4)
    let giveUp: (reason: Error) => void = () => undefined
    const given = new Promise<never>((_, reject) => (giveUp = reject))
    given.catch(() => undefined) // nobody may be waiting
    const begin = (order: TrialOrder) => this.pool.run({ errand: errandOf(plan, load, order), ...plain, stopped })
    return {
      run: async (order) => {
        const reply = await Promise.race([redone(() => begin(order)), given])
        if (!reply.ok) throw new Error(reply.message)
        return reply.result
      },
      solve,
      stop: () => {
        Atomics.store(new Int32Array(stopped), 0, 1)
        giveUp(new Error('the search was stopped'))
        return Promise.resolve()
      },
    }
  }

  /** Ends all threads at once. */
  end(): Promise<void> {
    this.ended = true
    return this.pool.destroy()
  }
}

/**
 * Trials of one search in threads of their own, which end with it; in this thread where there is one.
 *
 * @param load with shared memory when there are several threads
 * @param worker see `TrialThreads`
 */
export function trialPool(plan: Plan, load: Load, threads: number, worker?: URL): Trials {
  if (threads === 1) {
    const run = trialsHere(load)
    return { run: (order) => Promise.resolve(run(order)), solve, stop: () => Promise.resolve() }
  }
  const own = new TrialThreads(threads, worker)
  const trials = own.trials(plan, load)
  return {
    ...trials,
    stop: async () => {
      await trials.stop()
      await own.end()
    },
  }
}

function sharedText(plan: Plan): Pick<Task, 'planKey' | 'planText'> {
  const bytes = new TextEncoder().encode(JSON.stringify(plan))
  const planText = new SharedArrayBuffer(bytes.length)
  new Uint8Array(planText).set(bytes)
  return { planText, planKey: createHash('sha256').update(bytes).digest('hex') }
}

/** Any thread may take it, so that the requests go along; being shared they are not copied. */
function errandOf(plan: Plan, load: Load, order: TrialOrder): Errand {
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
