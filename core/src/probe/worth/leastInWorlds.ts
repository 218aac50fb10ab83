import type { Plan } from '../../plan/schema.ts'
import type { Sized } from '../../answer/levers.ts'
import type { Load } from '../../search/load.ts'
import { heldInWorld, serviceOf } from '../../search/trialRunner.ts'
import { worldOf, type World } from '../../world/worldOf.ts'

/** Beyond so many times what is chosen, and some more, nobody looks. */
const MOST_TIMES = 2
const MOST_MORE = 2

/** The most groups that are looked at where so many are chosen. */
export const mostLookedAt = (groups: number, maxGroups: number): number => Math.min(maxGroups, groups * MOST_TIMES + MOST_MORE)

/**
 * The fewest groups of machines that keep every promise in one world after the other; Infinity where as many as are looked at do not.
 * More machines never do worse: it goes down from what holds, and up from what does not. Yields after each world.
 *
 * @param held whether the chosen number holds in each world
 */
export function* leastInWorlds(
  plan: Plan,
  service: string,
  { option }: Sized,
  { groups, maxGroups, machines }: { groups: number; maxGroups: number; machines: (groups: number) => number },
  held: readonly boolean[],
  load: Load,
): Generator<number[], number[]> {
  const own = serviceOf(plan, { service })
  const least: number[] = []
  const most = mostLookedAt(groups, maxGroups)
  for (const [number, holds] of held.entries()) {
    const world = worldOf(plan, number)
    least.push(holds ? down(world) : up(world))
    yield least
  }
  return least

  function down(world: World): number {
    let fewest = groups
    while (fewest > 1 && holdsIn(world, fewest - 1)) fewest--
    return fewest
  }
  function up(world: World): number {
    for (let more = groups + 1; more <= most; more++) if (holdsIn(world, more)) return more
    return Infinity
  }
  function holdsIn(world: World, count: number): boolean {
    const { holds } = heldInWorld(world, { service, option, machines: machines(count) }, load.forOrder(own, world))
    return holds
  }
}
