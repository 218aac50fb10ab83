import type { Plan, Service } from '../plan/schema.ts'
import type { Candidate } from './candidate.ts'
import { CandidateMaker, type Place } from './makeCandidate.ts'
import { placesOf } from './places.ts'

/** Every candidate of a service, in a fixed order: machines, then variants, devices, settings, sequences, policies and purchases as the plan lists them. */
export function enumerate(plan: Plan, service: Service): Candidate[] {
  const model = plan.models.find((m) => m.name === service.model)
  if (!model) return []
  const make = new CandidateMaker(plan, model)
  const out: Candidate[] = []
  for (const place of placesOf(plan, service, model)) out.push(make.at(place))
  return out
}

/** Candidates of a service by their place in the enumeration, each looked at when it is asked for. */
export class CandidateList {
  private readonly make: CandidateMaker | undefined
  private readonly places: Place[]
  private readonly made = new Map<number, Candidate>()

  constructor(plan: Plan, service: Service) {
    const model = plan.models.find((m) => m.name === service.model)
    this.make = model && new CandidateMaker(plan, model)
    this.places = model ? [...placesOf(plan, service, model)] : []
  }

  /** @throws RangeError when there is no such place */
  at(index: number): Candidate {
    const place = this.places.at(index)
    if (!this.make || index < 0 || !place) throw new RangeError(`there is no candidate ${index}`)
    const candidate = this.made.get(index) ?? this.make.at(place)
    this.made.set(index, candidate)
    return candidate
  }
}
