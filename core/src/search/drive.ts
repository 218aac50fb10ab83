import type { Load } from './load.ts'
import type { Search, TrialOrder, TrialResult } from './order.ts'
import { serviceOf, TrialRunner } from './trialRunner.ts'

/** Whoever carries out the orders of a search: this thread, or a crew of others. Results do not depend on who does. */
export interface Trials {
  run(order: TrialOrder): Promise<TrialResult>
  /** Leaves nothing running; orders that are under way end with an error. */
  stop(): Promise<void>
}

/** Carries orders out in this thread. */
export function trialsHere(load: Load): (order: TrialOrder) => TrialResult {
  const runner = new TrialRunner(load.plan)
  return (order) => runner.run(order, load.forOrder(serviceOf(load.plan, order), order))
}

/** Drives a search to its end in this thread. */
export function driveHere<P, T>(search: Search<P, T>, load: Load, onProgress: (progress: P) => void = () => undefined): T {
  const run = trialsHere(load)
  let step = search.next([])
  while (!step.done) {
    onProgress(step.value.progress)
    step = search.next(step.value.orders.map(run))
  }
  return step.value
}

/**
 * Drives a search to its end with orders carried out elsewhere, several at a time. The result is the same as
 * {@link driveHere} gives, whatever the number of threads.
 */
export async function driveElsewhere<P, T>(search: Search<P, T>, trials: Pick<Trials, 'run'>, onProgress: (progress: P) => void = () => undefined): Promise<T> {
  let step = search.next([])
  while (!step.done) {
    onProgress(step.value.progress)
    step = search.next(await Promise.all(step.value.orders.map((order) => trials.run(order))))
  }
  return step.value
}
