import type { Profile } from '../service/profile.ts'
import { costPerHour, optionKey, type Candidate } from './candidate.ts'
import type { Missed } from './order.ts'

/** A candidate that bounds do not rule out, with all that is known of how many machines it needs. */
export interface Option {
  candidate: Candidate
  key: string
  profile: Profile
  /** no fewer machines can do: by the bound at first, then by trials */
  leastMachines: number
  /** the fewest machines for which the first repetition is known to hold; Infinity when none is */
  holdsAt: number
  /** how far the next try goes beyond `leastMachines` while nothing is known to hold: 1, 2, 4 … */
  stride: number
  /** the largest number of machines that missed, and what */
  missed: { machines: number; what: Missed } | undefined
}

export function newOption(candidate: Candidate, profile: Profile, leastMachines: number): Option {
  return { candidate, key: optionKey(candidate), profile, leastMachines, holdsAt: Infinity, stride: 1, missed: undefined }
}

/** The least that an option can cost, per hour. */
export function leastCost(option: Option): number {
  return costPerHour(option.candidate, option.leastMachines)
}

/** What an option is known to cost at most, per hour; Infinity when it is not known to hold at all. */
export function knownCost(option: Option): number {
  return option.holdsAt === Infinity ? Infinity : costPerHour(option.candidate, option.holdsAt)
}

/** Whether its cost is known exactly. */
export function isSettled(option: Option): boolean {
  return option.holdsAt === option.leastMachines
}

/** Order of the search: by the least that an option can cost, ties by enumeration. */
export function byLeastCost(a: Option, b: Option): number {
  return leastCost(a) - leastCost(b) || a.candidate.index - b.candidate.index
}

/**
 * The number of machines to try next: between what misses and what holds the middle; before anything holds a growing
 * stride, but no dearer than `toBeat` (per hour), where trying would not help.
 */
export function nextTry(option: Option, toBeat: number): number {
  const { candidate, leastMachines, holdsAt, stride } = option
  if (holdsAt !== Infinity) return (leastMachines + holdsAt) >> 1
  const affordable = candidate.machine.pricePerHour > 0 ? Math.floor(toBeat / candidate.machine.pricePerHour) : Infinity
  return Math.max(leastMachines, Math.min(candidate.maxMachines, affordable, leastMachines + stride - 1))
}

/** Takes in what a trial of the first repetition said. More machines never do worse: a miss speaks for all fewer. */
export function learn(option: Option, machines: number, missed: Missed | null): void {
  if (missed === null) {
    option.holdsAt = Math.min(option.holdsAt, machines)
    return
  }
  option.leastMachines = Math.max(option.leastMachines, Math.min(machines + 1, option.holdsAt))
  option.stride *= 2
  if (machines >= (option.missed?.machines ?? 0)) option.missed = { machines, what: missed }
}

/** Takes in that the repetitions together leave a doubt, although the first held. */
export function doubt(option: Option, missed: Missed): void {
  option.missed = { machines: option.holdsAt, what: missed }
  option.leastMachines = option.holdsAt + 1
  option.holdsAt = Infinity
  option.stride = 1
}
