import type { Steps } from './order.ts'

/**
 * Runs several searches side by side. Every one takes the same steps as it would alone, and none waits for another, so that
 * threads are never idle while one of them has something to do.
 *
 * @param told the progress of all of them in one; undefined for those that are done
 */
export function* together<P, Q, T>(searches: readonly Steps<P, T>[], told: (progress: readonly (P | undefined)[]) => Q): Steps<Q, T[]> {
  // A fork is given the findings of its searches.
  return (yield { fork: searches, told: (progress) => told(progress as (P | undefined)[]) }) as T[]
}
