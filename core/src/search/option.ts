import type { Profile } from '../service/profile.ts'
import { costPerHour, optionKey, type Candidate } from './candidate.ts'
import type { Missed } from './order.ts'

/** A candidate that bounds do not rule out, with all that is known of how many groups of machines it needs. */
export interface Option {
  candidate: Candidate
  key: string
  profile: Profile
  /** no fewer groups can do: by the bound at first, then by trials */
  leastGroups: number
  /** the fewest groups for which the first repetition is known to hold; Infinity when none is */
  holdsAt: number
  /** how far the next try goes beyond `leastGroups` while nothing is known to hold: 1, 2, 4 … */
  stride: number
  /** the largest number of groups that missed, and what */
  missed: { groups: number; what: Missed } | undefined
  /** with a policy what is paid depends on the run: a lower bound of it, per hour, until a run has said it */
  paidPerHour: number
}

export function newOption(candidate: Candidate, profile: Profile, leastGroups: number, leastPerHour: number): Option {
  return { candidate, key: optionKey(candidate), profile, leastGroups, holdsAt: Infinity, stride: 1, missed: undefined, paidPerHour: leastPerHour }
}

/** The least that an option can cost, per hour. */
export function leastCost(option: Option): number {
  return option.candidate.policy ? option.paidPerHour : costPerHour(option.candidate, option.leastGroups)
}

/** What an option is known to cost at most, per hour; Infinity when it is not known to hold at all. */
export function knownCost(option: Option): number {
  if (option.holdsAt === Infinity) return Infinity
  return option.candidate.policy ? option.paidPerHour : costPerHour(option.candidate, option.holdsAt)
}

/** Whether its cost is known exactly. */
export function isSettled(option: Option): boolean {
  return option.candidate.policy ? option.holdsAt !== Infinity : option.holdsAt === option.leastGroups
}

/** Order of the search: by the least that an option can cost, ties by enumeration. */
export function byLeastCost(a: Option, b: Option): number {
  return leastCost(a) - leastCost(b) || a.candidate.index - b.candidate.index
}

/**
 * The number of groups to try next: between what misses and what holds the middle; before anything holds a growing
 * stride, but no dearer than `toBeat` (per hour), where trying would not help.
 */
export function nextTry(option: Option, toBeat: number): number {
  const { candidate, leastGroups, holdsAt, stride } = option
  if (candidate.policy) return candidate.maxGroups
  if (holdsAt !== Infinity) return (leastGroups + holdsAt) >> 1
  const each = costPerHour(candidate, 1)
  const affordable = each > 0 ? Math.floor(toBeat / each) : Infinity
  return Math.max(leastGroups, Math.min(candidate.maxGroups, affordable, leastGroups + stride - 1))
}

/** Takes in what a trial of the first repetition said. More machines never do worse: a miss speaks for all fewer. */
export function learn(option: Option, groups: number, missed: Missed | null, paidPerHour: number): void {
  if (option.candidate.policy) return learnOfPolicy(option, groups, missed, paidPerHour)
  if (missed === null) {
    option.holdsAt = Math.min(option.holdsAt, groups)
    return
  }
  option.leastGroups = Math.max(option.leastGroups, Math.min(groups + 1, option.holdsAt))
  option.stride *= 2
  if (groups >= (option.missed?.groups ?? 0)) option.missed = { groups, what: missed }
}

/** A policy is tried once, with all the machines that it may have. */
function learnOfPolicy(option: Option, groups: number, missed: Missed | null, paidPerHour: number): void {
  if (missed === null) {
    option.holdsAt = groups
    option.paidPerHour = paidPerHour
    return
  }
  option.leastGroups = Infinity
  option.missed = { groups, what: missed }
}

/** Takes in that the repetitions together leave a doubt, although the first held. */
export function doubt(option: Option, missed: Missed): void {
  option.missed = { groups: option.holdsAt, what: missed }
  option.leastGroups = option.candidate.policy ? Infinity : option.holdsAt + 1
  option.holdsAt = Infinity
  option.stride = 1
}
