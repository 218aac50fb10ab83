import type { Profile } from '../service/profile.ts'
import { groupsWithin } from '../cost/bill.ts'
import { costPerHour, optionKey, placeKey, type Candidate } from '../candidate/candidate.ts'
import type { Found } from './found.ts'
import type { Missed, TrialResult } from './order.ts'

/** A candidate that bounds do not rule out, with all that is known of how many groups of machines it needs. */
export interface Option {
  candidate: Candidate
  key: string
  /** machine, variant and device count: what a policy shares with fixed numbers */
  place: string
  profile: Profile
  /** no fewer groups can do: by the bound at first, then by trials */
  leastGroups: number
  /** the fewest groups for which the first repetition is known to hold; Infinity when none is */
  holdsAt: number
  /** what the repetitions said with so many, from the first on */
  held: TrialResult[]
  /** how far the next try goes beyond `leastGroups` while nothing is known to hold: 1, 2, 4 … */
  stride: number
  /** the largest number of groups that missed, and what */
  missed: { groups: number; what: Missed } | undefined
  /** what all repetitions together said, once they did */
  confirmed: Found | undefined
  /** see `Rejected` */
  leastStrain: number
  /** where what is paid depends on the run: a lower bound of it for each repetition, per hour; else empty */
  leastPaid: number[]
}

export function newOption(candidate: Candidate, profile: Profile, leastGroups: number, leastStrain: number, leastPaid: number[]): Option {
  return {
    candidate,
    key: optionKey(candidate),
    place: placeKey(candidate),
    profile,
    leastGroups,
    holdsAt: Infinity,
    held: [],
    stride: 1,
    missed: undefined,
    confirmed: undefined,
    leastStrain,
    leastPaid,
  }
}

/** The least that an option can cost, per hour; what it costs once it is confirmed. */
export function leastCost(option: Option): number {
  if (option.confirmed) return option.confirmed.perHour
  const { candidate, leastGroups, leastPaid, held } = option
  if (!candidate.paysByRun) return costPerHour(candidate, leastGroups)
  // What was paid with more groups than may do says nothing of what fewer cost.
  const known = isSettled(option) ? held : []
  const least = candidate.elastic ? 0 : costPerHour(candidate, leastGroups)
  return mean(leastPaid.map((paid, r) => Math.max(known.at(r)?.paidPerHour ?? paid, least)))
}

const mean = (values: readonly number[]) => values.reduce((a, b) => a + b, 0) / values.length

/** What an option is known to cost, as far as one knows; Infinity when it is not known to hold at all. */
export function knownCost(option: Option): number {
  if (option.confirmed) return option.confirmed.perHour
  if (option.holdsAt === Infinity) return Infinity
  return option.candidate.paysByRun ? option.held[0].paidPerHour : costPerHour(option.candidate, option.holdsAt)
}

/** Whether its first repetition has said all that it can. */
export function isSettled(option: Option): boolean {
  return option.candidate.elastic ? option.holdsAt !== Infinity : option.holdsAt === option.leastGroups
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
  if (candidate.elastic) return candidate.maxGroups
  if (holdsAt !== Infinity) return (leastGroups + holdsAt) >> 1
  const affordable = groupsWithin(candidate, toBeat, candidate.maxGroups)
  return Math.max(leastGroups, Math.min(candidate.maxGroups, affordable, leastGroups + stride - 1))
}

/** Takes in what a trial of the first repetition said. More machines never do worse: a miss speaks for all fewer. */
export function learn(option: Option, groups: number, result: TrialResult): void {
  const { missed } = result
  const { elastic } = option.candidate
  if (missed === null) {
    if (groups >= option.holdsAt) return
    ;[option.holdsAt, option.held] = [groups, [result]]
    return
  }
  // A policy is tried once, with all the machines that it may have.
  option.leastGroups = elastic ? Infinity : Math.max(option.leastGroups, Math.min(groups + 1, option.holdsAt))
  option.stride *= 2
  if (groups >= (option.missed?.groups ?? 0)) option.missed = { groups, what: missed }
}

/** Takes in that the repetitions together leave a doubt, although the first held. */
export function doubt(option: Option, missed: Missed): void {
  option.missed = { groups: option.holdsAt, what: missed }
  option.leastGroups = option.candidate.elastic ? Infinity : option.holdsAt + 1
  option.holdsAt = Infinity
  option.held = []
  option.stride = 1
}

/** Groups of machines that an option costs at least, so that a fixed number of so many costs no more. */
export function groupsForLeast(option: Option): number {
  return groupsWithin(option.candidate, leastCost(option), option.candidate.maxGroups)
}
