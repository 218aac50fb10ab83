import { fleetOf, profileOf, type Candidate } from '../candidate/candidate.ts'
import type { Service } from '../plan/schema.ts'
import type { Profile } from '../service/profile.ts'

/** What is run: a service as it stands, and one of its candidates with a number of groups of machines. */
export interface RunSpec {
  service: Service
  candidate: Candidate
  groups: number
  /** of a fixed number, where they are fewer than its groups have room for */
  replicas?: number
}

/** What is run where a service states its own step costs: so many replicas, on nothing that is rented, there all the time. */
export interface GivenSpec {
  service: Service
  candidate: null
  profile: Profile
  replicas: number
}

export type Runnable = RunSpec | GivenSpec

/** The step costs of what is run, and how many replicas there may be at one time. */
export function partsOf(spec: Runnable): { profile: Profile; replicas: number } {
  if (spec.candidate === null) return { profile: spec.profile, replicas: spec.replicas }
  return { profile: profileOf(spec.candidate), replicas: spec.replicas ?? fleetOf(spec.candidate, spec.groups).replicas }
}
