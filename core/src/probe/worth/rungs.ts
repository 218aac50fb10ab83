import type { Choice, ServiceAnswer } from '../../answer/answer.ts'
import type { Sized } from '../../answer/levers.ts'
import { nearestCheaper } from '../../answer/nearestCheaper.ts'
import { optionOf } from '../../candidate/optionName.ts'
import { HOURS_PER_MONTH } from '../../cost/money.ts'

/** Something that may be rented, and what it costs where all is as the plan states it. */
export interface Rung extends Sized {
  perMonth: number
}

export const rungOf = (choice: Choice): Rung => ({ option: optionOf(choice), machines: choice.machines, perMonth: choice.money.perMonth })

/** So many of the runners-up may be rented in place of what is chosen, once more is known. */
const RUNNERS_UP = 2

/** What may be rented in place of what is chosen: the nearest that costs less, and the first runners-up. */
export function rungsBeside(answer: Pick<ServiceAnswer, 'chosen' | 'rejected' | 'runnersUp'>): Rung[] {
  const cheaper = nearestCheaper(answer)
  return [
    ...(cheaper ? [{ option: optionOf(cheaper.option), machines: cheaper.machines, perMonth: cheaper.perHour * HOURS_PER_MONTH }] : []),
    ...answer.runnersUp.slice(0, RUNNERS_UP).map(rungOf),
  ]
}

/**
 * The cheapest that holds in so large a share of worlds, by its place; as many as there are where none does.
 *
 * @param holds of each world, of each rung in order of cost
 */
export function enoughFor(certainty: number, holds: readonly (readonly boolean[])[]): number {
  const rungs = holds[0]?.length ?? 0
  const mayBreak = Math.floor(holds.length * (1 - certainty) + 1e-9)
  for (let rung = 0; rung < rungs; rung++) if (holds.filter((h) => !h[rung]).length <= mayBreak) return rung
  return rungs
}
