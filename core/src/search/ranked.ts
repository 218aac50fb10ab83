import type { Candidate } from '../candidate/candidate.ts'
import type { Service } from '../plan/schema.ts'
import type { Found } from './found.ts'
import type { Rejection } from './rejection.ts'

export interface Rejected {
  candidate: Candidate
  rejection: Rejection
  /**
   * the tightest promise alone on an idle replica, over its limit with head-room taken off: under load it is no better; null where nothing
   * fits
   */
  leastStrain: number | null
}

export interface ServiceSearch {
  service: Service
  /**
   * cheapest first, of equal cost the one with most to spare; every one of them meets its targets over all repetitions; one for each
   * machine, variant and device count
   */
  ranked: readonly Found[]
  rejected: Rejected[]
  candidates: number
  simulations: number
}
