import type { Load } from './load.ts'
import type { ForkStep, Steps, SearchStep, TrialOrder, TrialResult } from './order.ts'
import type { Solution, Solver } from './solver.ts'
import { serviceOf, TrialRunner } from './trialRunner.ts'

/** Whoever carries out the orders of a search: this thread, or a crew of others. Results do not depend on who does. */
export interface Trials {
  run(order: TrialOrder): Promise<TrialResult>
  /** Solves a linear program, see {@link Solver}. */
  solve(problem: string): Promise<Solution | undefined>
  /** Leaves nothing running; orders that are under way end with an error. */
  stop(): Promise<void>
}

/** A search that was given up while it ran. */
export class GivenUp extends Error {}

/** Carries orders out in this thread. */
export function trialsHere(load: Load): (order: TrialOrder) => TrialResult {
  const runner = new TrialRunner(load.plan)
  return (order) => runner.run(order, load.forOrder(serviceOf(load.plan, order), order))
}

/** Where nobody brought a solver: most searches need none. */
const noSolver: Solver = () => {
  throw new Error('services that share machines are chosen by a solver, and none was given')
}

/** Drives a search to its end in this thread; of those side by side each takes a step in turn. */
export function driveHere<P, T>(search: Steps<P, T>, load: Load, onProgress: (progress: P) => void = () => undefined, solve = noSolver): T {
  const run = trialsHere(load)
  const walk = walkOf(search, solve)
  for (let orders = walk.next(onProgress); orders !== undefined; orders = walk.next(onProgress)) walk.take(orders.map(run))
  return walk.found()
}

interface Walk<P, T> {
  /** the orders of the next step; undefined when there is none */
  next: (onProgress: (progress: P) => void) => TrialOrder[] | undefined
  take: (results: TrialResult[]) => void
  found: () => T
}

function walkOf<P, T>(search: Steps<P, T>, solve: Solver): Walk<P, T> {
  let step = search.next([])
  let inner: { walks: Walk<unknown, unknown>[]; last: unknown[]; done: boolean[]; turn: number } | undefined
  const enter = () => {
    inner = undefined
    while (!step.done && 'solve' in step.value) step = search.next(solve(step.value.solve))
    if (!step.done && 'fork' in step.value)
      inner = { walks: step.value.fork.map((s) => walkOf(s, solve)), last: [], done: step.value.fork.map(() => false), turn: -1 }
  }
  enter()
  return {
    next(onProgress) {
      while (!step.done) {
        if (!inner) {
          const { orders, progress } = step.value as SearchStep<P>
          onProgress(progress)
          return orders
        }
        const { told } = step.value as ForkStep<P>
        for (let tries = 0; tries < inner.walks.length; tries++) {
          const i = (inner.turn = (inner.turn + 1) % inner.walks.length)
          if (inner.done[i]) continue
          const orders = inner.walks[i].next((p) => inner && (inner.last[i] = p))
          if (!orders) {
            inner.done[i] = true
            inner.last[i] = undefined
            continue
          }
          onProgress(told(inner.walks.map((_, k) => inner?.last[k])))
          return orders
        }
        step = search.next(inner.walks.map((w) => w.found()))
        enter()
      }
      return undefined
    },
    take(results) {
      if (inner) return inner.walks[inner.turn].take(results)
      step = search.next(results)
      enter()
    },
    found: () => (step as IteratorReturnResult<T>).value, // nobody asks before it is done
  }
}

/**
 * Drives a search to its end with orders carried out elsewhere, several at a time. The result is the same as
 * {@link driveHere} gives, whatever the number of threads.
 *
 * @param isGivenUp asked between steps
 * @throws GivenUp
 */
export async function driveElsewhere<P, T>(
  search: Steps<P, T>,
  trials: Pick<Trials, 'run' | 'solve'>,
  onProgress: (progress: P) => void = () => undefined,
  isGivenUp: () => boolean = () => false,
): Promise<T> {
  let step = search.next([])
  while (!step.done) {
    if (isGivenUp()) throw new GivenUp('the search was given up')
    const { value } = step
    if ('fork' in value) {
      const last: unknown[] = value.fork.map(() => undefined)
      const findings = await Promise.all(
        value.fork.map(async (inner, i) => {
          const found = await driveElsewhere(
            inner,
            trials,
            (p) => {
              last[i] = p
              onProgress(value.told(last))
            },
            isGivenUp,
          )
          last[i] = undefined
          return found
        }),
      )
      step = search.next(findings)
    } else if ('solve' in value) step = search.next(await trials.solve(value.solve))
    else {
      onProgress(value.progress)
      step = search.next(await Promise.all(value.orders.map((order) => trials.run(order))))
    }
  }
  return step.value
}
