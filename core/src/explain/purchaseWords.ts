import { purchaseSuffix } from '../cost/purchase.ts'

/** How a choice is paid, after its name; nothing for machines on demand. @example ', committed: 2 always paid, the rest by use' */
export function paidWords({ purchase, committedMachines, machines }: { purchase: string; committedMachines: number; machines: number }): string {
  // Committing was tried, and to none is cheapest: that is on demand.
  if (committedMachines === 0) return purchase === 'committed' ? '' : purchaseSuffix(purchase)
  return committedMachines >= machines ? purchaseSuffix(purchase) : `${purchaseSuffix(purchase)}: ${committedMachines} always paid, the rest by use`
}
