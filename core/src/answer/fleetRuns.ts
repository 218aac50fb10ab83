import type { Candidate } from '../candidate/candidate.ts'
import { AS_STATED } from '../candidate/stated.ts'
import type { LifeRecord } from '../life/startRules.ts'

/** A run of a service, as far as its machines go. */
export interface FleetRun {
  candidate: Candidate
  groups: number
  /** null for a fleet that is there all the time */
  life: LifeRecord | null
}

/** Runs by the offer whose machines they have, in their order; step costs that are stated without a machine have none. */
export function byOffer<R extends FleetRun>(runs: readonly R[]): R[][] {
  const offers = new Map<string, R[]>()
  for (const run of runs) {
    const { name, provider } = run.candidate.machine
    if (provider !== AS_STATED) offers.set(name, [...(offers.get(name) ?? []), run])
  }
  return [...offers.values()]
}
