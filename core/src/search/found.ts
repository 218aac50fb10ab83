import { headRoom } from '../measure/targets.ts'
import type { Certainty } from '../measure/certainty.ts'
import type { Interval } from '../measure/interval.ts'
import type { Target } from '../plan/schema.ts'
import type { Profile } from '../service/profile.ts'
import type { Candidate } from '../candidate/candidate.ts'

/** What independent seeds say of one target. */
export interface TargetOutcome {
  className: string
  classIndex: number
  target: Target
  certainty: Certainty
  interval: Interval | undefined
}

/** In how many worlds an option was seen to keep its promises before it was plain whether it does in enough of them. */
export interface WorldsSeen {
  kept: number
  run: number
  of: number
}

/** A configuration that meets every target; what is stated is one whether it does or not. */
export interface Found {
  candidate: Candidate
  profile: Profile
  /** see `optionKey` */
  key: string
  groups: number
  machines: number
  replicas: number
  /** machines that are there, averaged over the horizon: all of a fixed number */
  meanMachines: number
  /** the most that are there at one time, of all draws */
  mostMachines: number
  perHour: number
  /** the same by draw of the load: the plan's own, and further ones that were run to tell it from others */
  perHourByDraw: number[]
  /** groups that are committed to: paid always */
  committedGroups: number
  /** what the same costs with none committed to */
  uncommittedPerHour: number
  /** by draw, from when until when each group is there that may be committed to (see `TrialResult`) */
  committable: number[][]
  targets: TargetOutcome[]
  /** where the plan asks for a certainty: in how many worlds it was seen to hold */
  worlds?: WorldsSeen
  /** requests that finished, and their tokens: means over the draws that were run */
  finished: { requests: number; tokens: number }
}

/** Whether every promise is kept, as far as the draws tell. */
export function isKept({ targets }: { targets: readonly { certainty: Certainty }[] }): boolean {
  return targets.every((t) => t.certainty === 'meets')
}

/** Head-room of the target that has least. */
export function leastHeadRoom({ targets }: Found): number {
  return targets.reduce((least, { interval, target }) => Math.min(least, headRoom(interval?.mean, target) ?? Infinity), Infinity)
}
