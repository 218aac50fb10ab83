import type { Profile } from '../service/profile.ts'
import { groupsWithin } from '../cost/bill.ts'
import { costPerHour, optionKey, placeKey, type Candidate } from './candidate.ts'
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
  /** where what is paid depends on the run: a lower bound of it for each repetition, per hour; what it was once it was run (of a fixed number: with `holdsAt`) */
  paid: number[]
  /** and what a fixed number pays at the least for the work alone */
  workPerHour: number
}

export function newOption(candidate: Candidate, profile: Profile, leastGroups: number, paid: number[], workPerHour = 0): Option {
  return { candidate, key: optionKey(candidate), place: placeKey(candidate), profile, leastGroups, holdsAt: Infinity, held: [], stride: 1, missed: undefined, confirmed: undefined, paid, workPerHour }
}

/** The least that an option can cost, per hour; what it costs once it is confirmed. */
export function leastCost(option: Option): number {
  if (option.confirmed) return option.confirmed.perHour
  if (option.candidate.elastic) return mean(option.paid)
  const least = Math.max(option.workPerHour, costPerHour(option.candidate, option.leastGroups))
  return option.candidate.paysByRun && isSettled(option) ? mean(option.paid.map((p) => Math.max(p, least))) : least
}

const mean = (values: readonly number[]) => values.reduce((a, b) => a + b, 0) / values.length

/** What an option is known to cost, as far as one knows; Infinity when it is not known to hold at all. */
export function knownCost(option: Option): number {
  if (option.confirmed) return option.confirmed.perHour
  if (option.holdsAt === Infinity) return Infinity
  return option.candidate.paysByRun ? option.paid[0] : costPerHour(option.candidate, option.holdsAt)
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
  const { missed, paidPerHour } = result
  const { elastic } = option.candidate
  if (missed === null) {
    if (groups >= option.holdsAt) return
    ;[option.holdsAt, option.held] = [groups, [result]]
    if (option.candidate.paysByRun) option.paid[0] = paidPerHour
    return
  }
  // A policy is tried once, with all the machines that it may have.
  option.leastGroups = elastic ? Infinity : Math.max(option.leastGroups, Math.min(groups + 1, option.holdsAt))
  option.stride *= 2
  if (groups >= (option.missed?.groups ?? 0)) option.missed = { groups, what: missed }
}

/** Takes in what a further repetition said with the groups that hold in the first. */
export function learnMore(option: Option, result: TrialResult): void {
  if (option.candidate.paysByRun) option.paid[option.held.length] = result.paidPerHour
  option.held.push(result)
}

/** Takes in that the repetitions together leave a doubt, although the first held. */
export function doubt(option: Option, missed: Missed): void {
  option.missed = { groups: option.holdsAt, what: missed }
  option.leastGroups = option.candidate.elastic ? Infinity : option.holdsAt + 1
  option.holdsAt = Infinity
  option.held = []
  if (!option.candidate.elastic) option.paid.fill(0)
  option.stride = 1
}

/** Groups of machines that an option costs at least, so that a fixed number of so many costs no more. */
export function groupsForLeast(option: Option): number {
  return groupsWithin(option.candidate, leastCost(option), option.candidate.maxGroups)
}
