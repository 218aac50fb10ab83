import { isByTokens } from '../cost/purchase.ts'
import type { Plan, Service } from '../plan/schema.ts'
import type { Candidate } from './candidate.ts'
import { CandidateMaker, type Entry } from './makeCandidate.ts'
import { triedBy } from './entries.ts'

/**
 * Every candidate of a service, in a fixed order: machines, then variants, devices, settings, sequences, policies and purchases as the
 * plan lists them. Each is made when it is asked for: of thousands the first may do.
 */
export function* candidatesOf(plan: Plan, service: Service): Generator<Candidate, void, void> {
  const tried = triedBy(plan, service)
  if (!tried) return
  const make = new CandidateMaker(plan, tried.model)
  for (const entry of tried.entries) yield make.at(entry)
}

/** All of {@link candidatesOf}. */
export const enumerate = (plan: Plan, service: Service): Candidate[] => [...candidatesOf(plan, service)]

/** Those of which something starts up: what is sold by tokens runs already, on machines of somebody else. */
export function* startingCandidates(plan: Plan, service: Service): Generator<Candidate, void, void> {
  for (const candidate of candidatesOf(plan, service)) if (candidate.fit.fits && !isByTokens(candidate.purchase)) yield candidate
}

/** Candidates of a service by their place in the enumeration, each looked at when it is asked for. */
export class CandidateList {
  private readonly make: CandidateMaker | undefined
  private readonly entries: Entry[]
  private readonly made = new Map<number, Candidate>()

  constructor(plan: Plan, service: Service) {
    const tried = triedBy(plan, service)
    this.make = tried && new CandidateMaker(plan, tried.model)
    this.entries = tried ? [...tried.entries] : []
  }

  /** @throws RangeError when there is no such entry */
  at(index: number): Candidate {
    const entry = this.entries.at(index)
    if (!this.make || index < 0 || !entry) throw new RangeError(`there is no candidate ${index}`)
    const candidate = this.made.get(index) ?? this.make.at(entry)
    this.made.set(index, candidate)
    return candidate
  }
}
