import type { Certainty } from '../measure/certainty.ts'
import type { Target } from '../plan/schema.ts'
import type { Interval } from '../measure/interval.ts'
import type { Profile } from '../service/profile.ts'
import { costPerHour, optionKey, type Candidate } from './candidate.ts'

/** What independent seeds say of one target. */
export interface TargetOutcome {
  className: string
  classIndex: number
  target: Target
  certainty: Certainty
  interval: Interval | undefined
}

/** A configuration that meets every target. */
export interface Found {
  candidate: Candidate
  profile: Profile
  machines: number
  replicas: number
  perHour: number
  targets: TargetOutcome[]
  /** requests that the first repetition finished, and their tokens */
  finished: { requests: number; tokens: number }
}

/** Ranked by cost, ties by order of enumeration. */
export function better(a: { perHour: number; index: number }, b: { perHour: number; index: number }): boolean {
  return a.perHour < b.perHour || (a.perHour === b.perHour && a.index < b.index)
}

/** The best options so far, one for each machine, variant and device count, cheapest first. */
export class Ranking<T extends { candidate: Candidate; perHour: number }> {
  private list: T[] = []
  private readonly keep: number

  /** @param keep how many to hold; options beyond are beaten */
  constructor(keep: number) {
    this.keep = keep
  }

  best(): readonly T[] {
    return this.list
  }

  /** What a new configuration of this candidate must beat to be held; undefined when there is still room. */
  toBeat(candidate: Candidate): { perHour: number; index: number } | undefined {
    const key = optionKey(candidate)
    const own = this.list.find((f) => optionKey(f.candidate) === key)
    if (own) return { perHour: own.perHour, index: own.candidate.index }
    if (this.list.length < this.keep) return undefined
    const last = this.list[this.list.length - 1]
    return { perHour: last.perHour, index: last.candidate.index }
  }

  /** Adds one that beats what was to beat, and gives the one that it pushes out. */
  add(found: T): T | undefined {
    const key = optionKey(found.candidate)
    const own = this.list.findIndex((f) => optionKey(f.candidate) === key)
    const out = own >= 0 ? this.list.splice(own, 1)[0] : undefined
    this.list.push(found)
    this.list.sort((a, b) => a.perHour - b.perHour || a.candidate.index - b.candidate.index)
    return out ?? (this.list.length > this.keep ? this.list.pop() : undefined)
  }
}

/** The most machines with which a candidate still beats another; at most its own limit. */
export function affordable(candidate: Candidate, toBeat: { perHour: number; index: number } | undefined): number {
  if (toBeat === undefined) return candidate.maxMachines
  let machines = Math.min(candidate.maxMachines, Math.floor(toBeat.perHour / Math.max(1e-12, candidate.machine.pricePerHour)) + 1)
  while (machines > 0 && !better({ perHour: costPerHour(candidate, machines), index: candidate.index }, toBeat)) machines--
  return machines
}
