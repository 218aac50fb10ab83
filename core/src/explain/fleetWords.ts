import { isByCall, isByTokens, type Purchase } from '../cost/purchase.ts'
import { PURCHASES } from '../plan/ways.ts'
import { bare, threeDigits } from '../units/number.ts'

/** A fleet in the fewest words, with what is special about how it is paid. @example '1 × Firth pebble on spot', 'Firth relay by tokens' */
export function shortFleetWords({
  upTo,
  machines,
  machine,
  purchase,
}: {
  upTo: boolean
  machines: number
  machine: string
  purchase: Purchase
}): string {
  const many = isByTokens(purchase) ? '' : `${upTo ? 'up to ' : ''}${machines} × `
  return `${many}${machine}${PURCHASES[purchase.kind].after}`
}

/** What is to be done with what is recommended: nothing that is sold by tokens is rented. @example 'rent' */
export const takeWord = (purchases: readonly Purchase[]): 'rent' | 'buy' =>
  purchases.length > 0 && purchases.every(isByTokens) ? 'buy' : 'rent'

/** A number of devices or replicas in a table; what is sold by tokens has none that anybody counts. */
export const countCell = (n: number, purchase: Purchase): string => (isByTokens(purchase) ? '–' : String(n))

/** Machines of a choice in words: a number, or up to a number with what is there on average. @example '2 × Fenland twin' */
export function fleetWords(c: {
  machines: number
  machine: string
  policy: string | null
  purchase?: Purchase
  meanMachines?: number
  mostMachines?: number
}): string {
  if (c.purchase && isByTokens(c.purchase)) return c.machine
  if (c.policy === null && !(c.purchase && isByCall(c.purchase))) return `${c.machines} × ${c.machine}`
  const most = c.mostMachines === undefined || c.mostMachines >= c.machines ? '' : `never more than ${c.mostMachines}, `
  const mean = c.meanMachines === undefined ? '' : ` (${most}${bare(threeDigits(c.meanMachines))} on average)`
  return `up to ${c.machines} × ${c.machine}${mean}`
}
