import { isRented } from '../cost/purchase.ts'
import type { RejectedOption, ServiceAnswer } from './answer.ts'

/** A rejected configuration that would cost less than the chosen one. */
export interface NearestCheaper {
  option: RejectedOption
  machines: number
  perHour: number
}

/** The option that a person would ask about: a little cheaper, and why it does not do. */
export function nearestCheaper({ chosen, rejected }: Pick<ServiceAnswer, 'chosen' | 'rejected'>): NearestCheaper | undefined {
  if (!chosen) return undefined
  let best: NearestCheaper | undefined
  for (const option of rejected) {
    const { rejection } = option
    // What comes and goes costs what its run says, and a run that missed was stopped: its cost is not known.
    const steady = option.policy === null && isRented(option.purchase)
    if (rejection.kind !== 'dearer' && !(rejection.kind === 'limit' && steady)) continue
    const { perHour } = rejection
    if (perHour < chosen.money.perHour && perHour > (best?.perHour ?? -1)) best = { option, machines: rejection.machines, perHour }
  }
  return best
}
