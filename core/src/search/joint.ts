import { obtainable } from '../plan/machineSchema.ts'
import type { Found } from './found.ts'
import type { ServiceSearch } from './searchService.ts'

/**
 * Chooses one option for each service so that together they stay within stock and quota of every machine, and share none
 * that takes one model only, at the least cost. Services without any option are left out. Options beyond those ranked are not considered: `undefined` says
 * that the ranked ones can not be had together.
 */
export function chooseTogether(searches: readonly ServiceSearch[]): (Found | undefined)[] | undefined {
  let best: { perHour: number; choice: (Found | undefined)[] } | undefined
  const choice: (Found | undefined)[] = []
  const used = new Map<string, number>()

  function descend(depth: number, perHour: number): void {
    if (best && perHour >= best.perHour) return
    if (depth === searches.length) {
      best = { perHour, choice: [...choice] }
      return
    }
    const { ranked } = searches[depth]
    if (ranked.length === 0) {
      choice[depth] = undefined
      return descend(depth + 1, perHour)
    }
    for (const found of ranked) {
      const { machine } = found.candidate
      const { name } = machine
      const before = used.get(name) ?? 0
      if (before + found.machines > obtainable(machine)) continue
      if (before > 0 && machine.ceilings?.oneModel) continue
      used.set(name, before + found.machines)
      choice[depth] = found
      descend(depth + 1, perHour + found.perHour)
      used.set(name, before)
    }
  }

  descend(0, 0)
  return best?.choice
}
