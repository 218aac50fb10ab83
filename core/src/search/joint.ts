import { obtainable } from '../plan/machineSchema.ts'
import { choiceProblem, taken } from './choiceProblem.ts'
import type { Found } from './found.ts'
import { solved, type Steps } from './order.ts'
import { byCommittedMachine, sharedPlaces, type Choices, type SharedPlaces } from './sharedPlaces.ts'

/** One option for each service, `undefined` for one that has none, and what of their machines is committed to together. */
export interface JointChoice {
  chosen: (Found | undefined)[]
  shared: SharedPlaces[]
}

/**
 * Chooses one option for each service so that together they stay within stock and quota of every machine, and share none
 * that takes one model only, at the least cost; what several of them commit to of one machine they commit to together.
 * Options beyond those given are not considered: `undefined` says that they can not be had together.
 *
 * Where the cheapest of each have nothing to do with each other they are it. Elsewhere an integer program, whose objective is
 * never above what a choice costs, gives one choice after the other, each priced exactly, until nothing that is left can cost less.
 */
export function* chooseTogether<P>(choices: Choices, horizonSeconds: number): Steps<P, JointChoice | undefined> {
  if (!isEntangled(choices)) return { chosen: choices.map((options) => options.at(0)), shared: [] }
  let best: (JointChoice & { perHour: number }) | undefined
  const seen: number[][] = []
  for (;;) {
    const solution = yield* solved<P>(choiceProblem(choices, horizonSeconds, seen))
    if (!solution || (best && solution.objective >= best.perHour * (1 - ROUNDING))) return best
    const picks = choices.map((options, service) => options.findIndex((_, option) => solution.values[taken(service, option)] > 0.5))
    const chosen = choices.map((options, service) => options.at(picks[service] < 0 ? options.length : picks[service]))
    const found = chosen.filter((f) => f !== undefined)
    const shared = sharedPlaces(found, horizonSeconds)
    const perHour = found.reduce((sum, f) => sum + f.perHour, 0) - shared.reduce((sum, s) => sum + s.savedPerHour, 0)
    if (!best || perHour < best.perHour * (1 - ROUNDING)) best = { chosen, shared, perHour }
    seen.push(picks)
  }
}

/** The solver reckons in floating point. */
const ROUNDING = 1e-9

/**
 * Whether what one service chooses may matter to another: they want the same machines, more than there are, or may commit to some
 * together.
 */
function isEntangled(choices: Choices): boolean {
  if (choices.filter((options) => options.length > 0).length < 2) return false
  const cheapest = choices.flatMap((options) => options.slice(0, 1))
  const byMachine = new Map<string, Found[]>()
  for (const found of cheapest) byMachine.set(found.candidate.machine.name, [...(byMachine.get(found.candidate.machine.name) ?? []), found])
  const clash = [...byMachine.values()].some((some) => {
    const { machine } = some[0].candidate
    return some.reduce((sum, f) => sum + f.machines, 0) > obtainable(machine) || (some.length > 1 && machine.ceilings?.oneModel)
  })
  return clash || byCommittedMachine(choices).size > 0
}
