import { alteredService, isDecidedBySearch, statedAs, type Alteration } from '@sandclock/core'
import type { RunName } from '../worker/heldRuns.ts'
import { editService, type Edit } from './edits.ts'

/**
 * Makes a change of a run so in its plan: what the search would decide about is stated, with the option as it is and not searched any more.
 * Nothing where the plan has no such option.
 */
export function makeSo({ service, option, machines }: RunName, alteration: Alteration): Edit {
  return (plan) => {
    if (!isDecidedBySearch(plan, service, alteration))
      return editService(service, (s) => alteredService(s, option.policy, alteration))(plan)
    const stated = statedAs(plan, service, option, machines, alteration)
    return stated ? editService(service, () => stated)(plan) : plan
  }
}
