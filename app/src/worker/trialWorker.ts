import { Errands, type Errand, type Plan, type TrialResult } from '@sandclock/core'
import { expose } from 'comlink'

let errands: Errands | undefined

/** Carries out the orders of one search after the other; one of several. */
const trials = {
  /** @param lock name of a lock that this thread holds for as long as it lives, so that its end is noticed */
  async hold(lock: string): Promise<void> {
    if (!locksAreHere()) return
    await new Promise<void>((held) => {
      void navigator.locks.request(lock, () => {
        held()
        return new Promise(() => undefined)
      })
    })
  },
  /** Begins a search: what the former left here is forgotten. */
  setUp(plan: Plan): void {
    errands = new Errands(plan)
  },
  run(errand: Errand): TrialResult {
    if (!errands) throw new Error('an order came before the plan')
    return errands.run(errand)
  },
}

/** Only pages that a browser deems secure have them: https, or this very machine. */
function locksAreHere(): boolean {
  return 'locks' in navigator
}

export type Trials = typeof trials
expose(trials)
