import { isSearched, staysSearched, type Alteration, type Plan } from '@sandclock/core'

/** What the button says that makes a change of a run so: what a search would decide about is stated, and searched no more. */
export function makeWords(plan: Plan, serviceName: string, alteration: Alteration): string {
  return !isSearched(plan, serviceName) || staysSearched(alteration) ? 'make it so' : 'state it so'
}
