import type { Purchase } from '../cost/purchase.ts'
import { PURCHASES } from '../plan/ways.ts'
import { bare, threeDigits } from '../units/number.ts'

/** A way of paying. @example 'on demand', 'committed', 'spot', 'spot but for 50 %' */
export function purchaseName({ kind, safeShare }: Purchase): string {
  const { words, safeShare: share } = PURCHASES[kind]
  return share === 'stated' ? `${words} ${bare(threeDigits(safeShare * 100))}\u00a0%` : words
}

/** The same after the name of a machine; nothing for what is usual. @example ', committed' */
export function purchaseSuffix(purchase: Purchase): string {
  return purchase.kind === 'on-demand' ? '' : `, ${purchaseName(purchase)}`
}

/** How a choice is paid, after its name; nothing for machines on demand. @example ', committed: 2 always paid, the rest by use' */
export function paidWords({
  purchase,
  committedMachines,
  machines,
}: {
  purchase: Purchase
  committedMachines: number
  machines: number
}): string {
  // Committing was tried, and to none is cheapest: that is on demand.
  if (committedMachines === 0) return purchase.kind === 'committed' ? '' : purchaseSuffix(purchase)
  return committedMachines >= machines
    ? purchaseSuffix(purchase)
    : `${purchaseSuffix(purchase)}: ${committedMachines} always paid, the rest by use`
}
