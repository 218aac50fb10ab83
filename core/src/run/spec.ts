import { fleetOf, profileOf, type Candidate } from '../candidate/candidate.ts'
import type { Service } from '../plan/schema.ts'
import type { Profile } from '../service/profile.ts'

/** What is run: a service as it stands, and one of its candidates with a number of groups of machines. */
export interface RunSpec {
  service: Service
  candidate: Candidate
  groups: number
}

/** The step costs of what is run, and how many replicas there may be at one time. */
export function partsOf({ candidate, groups }: RunSpec): { profile: Profile; replicas: number } {
  return { profile: profileOf(candidate), replicas: fleetOf(candidate, groups).replicas }
}
