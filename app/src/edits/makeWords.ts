import { isDecidedBySearch, type Alteration, type Plan } from '@sandclock/core'

/** What the button says that makes a change of a run so: what a search would decide about is stated, and searched no more. */
export function makeWords(plan: Plan, serviceName: string, alteration: Alteration): string {
  return isDecidedBySearch(plan, serviceName, alteration) ? 'state it so' : 'make it so'
}
