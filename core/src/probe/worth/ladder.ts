import { costPerHour, fleetOf, type Candidate } from '../../candidate/candidate.ts'
import { optionNameKey } from '../../candidate/optionName.ts'
import { HOURS_PER_MONTH } from '../../cost/money.ts'
import type { Plan } from '../../plan/schema.ts'
import type { Load } from '../../search/load.ts'
import { heldInWorld, serviceOf } from '../../search/trialRunner.ts'
import { worldOf } from '../../world/worldOf.ts'
import { leastInWorlds, mostLookedAt } from './leastInWorlds.ts'
import type { Rung } from './rungs.ts'

/** What may be rented, in order of what it costs, and what of it holds in one world after the other. */
export interface Ladder {
  /** what is chosen, at what it costs among the others */
  chosen: Rung
  rungs: Rung[]
  /** the most machines of what is chosen that are among them; null where there is one number of them alone */
  most: number | null
  /** of each world in turn, whether each holds */
  holds: Iterable<boolean[]>
}

/**
 * Beside what is chosen: any number of its machines where that is fixed and paid all the time, and others as they are named. What of these
 * costs the same stands behind what is chosen.
 *
 * @param held whether what is chosen holds in each world
 */
export function ladderOf(
  plan: Plan,
  service: string,
  chosen: Rung,
  others: readonly Rung[],
  candidate: Candidate,
  held: readonly boolean[],
  load: Load,
): Ladder {
  const isNumbered = !candidate.elastic && !candidate.paysByRun
  const machines = (groups: number) => fleetOf(candidate, groups).machines
  const groups = Math.round(chosen.machines / candidate.group.machines)
  const mostGroups = mostLookedAt(groups, candidate.maxGroups)
  const numbered = (n: number): Rung => ({ ...chosen, machines: machines(n), perMonth: costPerHour(candidate, n) * HOURS_PER_MONTH })
  const own = isNumbered ? Array.from({ length: mostGroups }, (_, i) => numbered(i + 1)) : [chosen]
  const isOwn = (r: Rung) => optionNameKey(r.option) === optionNameKey(chosen.option)
  const rungs = [...own, ...others.filter((r) => !isNumbered || !isOwn(r))].sort((a, b) => a.perMonth - b.perMonth)
  const served = serviceOf(plan, { service })

  function* holds(): Generator<boolean[]> {
    const least = isNumbered
      ? leastInWorlds(plan, service, chosen, { groups, maxGroups: candidate.maxGroups, machines }, held, load)
      : undefined
    for (const [number, chosenHolds] of held.entries()) {
      const fewest = least?.next().value?.[number]
      const world = worldOf(plan, number)
      const requests = load.forOrder(served, world)
      yield rungs.map((rung) => {
        if (fewest !== undefined && isOwn(rung)) return rung.machines >= machines(Math.min(fewest, mostGroups + 1))
        if (rung === chosen) return chosenHolds
        return heldInWorld(world, { service, ...rung }, requests).holds
      })
    }
  }
  return { chosen: isNumbered ? numbered(groups) : chosen, rungs, most: isNumbered ? machines(mostGroups) : null, holds: holds() }
}
