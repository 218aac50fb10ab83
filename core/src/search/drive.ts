import type { Search, TrialOrder, TrialResult } from './order.ts'
import type { TrialRunner } from './trialRunner.ts'

/** Drives a search to its end in this thread. */
export function driveHere<P, T>(search: Search<P, T>, runner: TrialRunner, onProgress: (progress: P) => void = () => undefined): T {
  let step = search.next([])
  while (!step.done) {
    onProgress(step.value.progress)
    step = search.next(step.value.orders.map((order) => runner.run(order)))
  }
  return step.value
}

/**
 * Drives a search to its end with orders carried out elsewhere, several at a time. The result is the same as
 * {@link driveHere} gives, whatever the number of threads.
 */
export async function driveElsewhere<P, T>(
  search: Search<P, T>,
  run: (order: TrialOrder) => Promise<TrialResult>,
  onProgress: (progress: P) => void = () => undefined,
): Promise<T> {
  let step = search.next([])
  while (!step.done) {
    onProgress(step.value.progress)
    step = search.next(await Promise.all(step.value.orders.map(run)))
  }
  return step.value
}
