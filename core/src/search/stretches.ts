import type { Candidate } from '../candidate/candidate.ts'
import type { TrialResult } from './order.ts'

/** Why a number of groups can not do: what its busiest stretch said. */
export type Spoken = { groups: number; result: TrialResult }

/**
 * What is known of busiest stretches: they are run with replicas that are there from their start, so that policies and ways
 * of paying do not matter. More groups never do worse: one that holds speaks for all larger numbers, one that misses for
 * all smaller ones.
 */
export class Stretches {
  private readonly holdsAt = new Map<string, number>()
  private readonly missed = new Map<string, Spoken>()

  /** What speaks against a number of groups; null when nothing does, undefined when one has to look. */
  against(candidate: Candidate, groups: number): Spoken | null | undefined {
    const key = stretchKey(candidate)
    const missed = this.missed.get(key)
    if (missed && missed.groups >= groups) return missed
    return groups >= (this.holdsAt.get(key) ?? Infinity) ? null : undefined
  }

  learn(candidate: Candidate, groups: number, result: TrialResult): void {
    const key = stretchKey(candidate)
    if (result.holds) this.holdsAt.set(key, Math.min(groups, this.holdsAt.get(key) ?? Infinity))
    else if (groups > (this.missed.get(key)?.groups ?? 0)) this.missed.set(key, { groups, result })
  }
}

/** What matters to replicas that are there. */
export function stretchKey(candidate: Candidate): string {
  const { machine, variant, devices, sequences, setting } = candidate
  return JSON.stringify([machine.name, variant.name, devices, sequences, setting])
}
