import type { WishCause } from '../life/cause.ts'
import type { Observation } from '../life/controller.ts'

/** What a policy wants, with its reason; undefined when it has no opinion. */
export interface Wish {
  replicas: number
  cause: WishCause
  /** what it went by, per ready replica, for those who want to see it */
  read?: number
}

/** A policy is a function from what is seen to a wish. The largest wish of all policies wins. */
export type Policy = (seen: Observation) => Wish | undefined
