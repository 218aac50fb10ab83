import type { Search, SearchStep, TrialOrder } from './order.ts'

/**
 * Runs several searches side by side as one: each round carries the orders of all that are not done, so that threads
 * have enough to share. Every search takes the same steps as it would alone.
 */
export function* together<P, T>(searches: readonly Search<P, T>[]): Search<(P | undefined)[], T[]> {
  const steps = searches.map((s) => s.next([]))
  for (;;) {
    const open = steps.flatMap((step, i) => (step.done ? [] : [{ i, value: step.value }]))
    if (open.length === 0) return steps.map((step) => (step as IteratorReturnResult<T>).value) // all of them are done
    const orders: TrialOrder[] = open.flatMap(({ value }) => value.orders)
    const results = yield { orders, progress: steps.map(progressOf) }
    let from = 0
    for (const { i, value } of open) {
      steps[i] = searches[i].next(results.slice(from, from + value.orders.length))
      from += value.orders.length
    }
  }
}

function progressOf<P, T>(step: IteratorResult<SearchStep<P>, T>): P | undefined {
  return step.done ? undefined : step.value.progress
}
