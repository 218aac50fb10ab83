import { costPerHour, fleetOf } from '../candidate/candidate.ts'
import type { Found } from './found.ts'
import { leastCost, type Option } from './option.ts'
import type { Rejection } from './rejection.ts'

/**
 * Why an option was not ranked, by what is known when the search is over.
 *
 * @param twin the same with another sequence limit or setting that was ranked
 * @param fixed a fixed number on its place that holds for no more
 * @param thanPerHour what the last of those that were ranked costs
 */
export function whyNot(option: Option, twin: Found | undefined, fixed: Option | undefined, thanPerHour: number): Rejection {
  const { candidate, leastGroups, missed } = option
  const perHour = leastCost(option)
  const { machines } = fleetOf(candidate, candidate.elastic ? candidate.maxGroups : leastGroups)
  if (missed && missed.groups === candidate.maxGroups)
    return {
      kind: 'limit',
      ...fleetOf(candidate, missed.groups),
      perHour: candidate.elastic ? perHour : costPerHour(candidate, missed.groups),
      limitedBy: candidate.limitedBy,
      missed: missed.what,
    }
  if (fixed && !twin)
    return {
      kind: 'no-saving',
      perHour,
      machines: fleetOf(fixed.candidate, fixed.holdsAt).machines,
      fixedPerHour: costPerHour(fixed.candidate, fixed.holdsAt),
    }
  if (twin)
    return {
      kind: 'same-option',
      sequences: candidate.sequences,
      setting: candidate.setting,
      machines,
      perHour,
      bestSequences: twin.candidate.sequences,
      bestSetting: twin.candidate.setting,
      bestPerHour: twin.perHour,
    }
  if (missed && missed.groups === leastGroups - 1) {
    return {
      kind: 'dearer',
      ...fleetOf(candidate, missed.groups),
      perHour: costPerHour(candidate, missed.groups),
      leastPerHour: perHour,
      thanPerHour,
      missed: missed.what,
    }
  }
  return { kind: 'dearer-bound', machines, perHour, thanPerHour }
}
