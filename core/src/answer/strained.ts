import { allHold, targetsOf } from '../measure/placedTargets.ts'
import { strainOf } from '../measure/targets.ts'
import type { Plan } from '../plan/schema.ts'
import type { RunSpec } from '../run/spec.ts'
import { wholeRun } from '../run/wholeRun.ts'
import type { Load } from '../search/load.ts'

/** What one input does to the chosen configuration when it moves by a plausible step. */
export interface LeverEffect {
  words: string
  /**
   * value of the tightest promise over its limit, head-room taken off: 1 is just enough; Infinity when it is not reached at all; null when
   * the configuration can not be had any more
   */
  strain: number | null
  /** which promise that is */
  tightest: string | null
  /** cost of the same configuration, per hour */
  perHour: number | null
  /**
   * where it does not hold any more: the cheapest that does of the same with more machines and of the next best; null when none of those
   * does
   */
  instead?: { words: string; perHour: number } | null
}

/** How much of its limit each promise takes in a run on one draw, or on a multiple of its load, head-room taken off; and what it costs. */
export function strained(
  plan: Plan,
  spec: RunSpec,
  load: Load,
  loadFactor: number,
  repetition = 0,
): { strains: number[]; perHour: number; kept: boolean } {
  const { service } = spec
  const requests = loadFactor === 1 ? load.of(service, repetition) : load.multiplied(service, loadFactor, undefined, repetition)
  const { readings, perHour } = wholeRun(plan, spec, requests, repetition)
  const placed = targetsOf(plan, service)
  return {
    perHour,
    kept: allHold(plan, service, readings),
    strains: readings.map(({ value }, i) => (value === undefined ? 0 : strainOf(value, placed[i].target, plan.margin))),
  }
}

/** The tightest promise and the cost of a run on the first draw, or on a multiple of its load. */
export function measured(words: string, plan: Plan, spec: RunSpec, load: Load, loadFactor: number): LeverEffect {
  const { service } = spec
  const { strains, perHour } = strained(plan, spec, load, loadFactor)
  const placed = targetsOf(plan, service)
  const strain = Math.max(0, ...strains)
  return { words, strain, tightest: strain > 0 ? placed[strains.indexOf(strain)].target.measure : null, perHour }
}
