import { certainty } from '../src/measure/certainty.ts'
import type { Plan } from '../src/plan/schema.ts'
import { costPerHour, fleetOf } from '../src/candidate/candidate.ts'
import { enumerate } from '../src/candidate/enumerate.ts'
import { bestCommitted, runPerHours } from '../src/cost/bill.ts'
import type { Setting } from '../src/candidate/settings.ts'
import type { Purchase } from '../src/cost/purchase.ts'
import { Load } from '../src/search/load.ts'
import { allHold, readings, targetsOf } from '../src/measure/placedTargets.ts'
import { run } from '../src/run/run.ts'
import { USUAL_WORLDS, worldOf } from '../src/world/worldOf.ts'

/** What trying everything finds to hold. */
export interface Best {
  perHour: number
  machine: string
  variant: string
  devices: number
  sequences: number
  machines: number
  policy: string | null
  purchase: Purchase
  setting: Setting | null
  paysByRun: boolean
}

/** Worlds of a plan, each with what its service may be run as there. */
const worldsOf = (plan: Plan, load: Load) =>
  Array.from({ length: USUAL_WORLDS }, (_, number) => {
    const world = worldOf(plan, number)
    const candidates = enumerate(world.plan, world.plan.services[0])
    return { ...world, candidates, requests: load.forOrder(plan.services[0], world), broke: 0 }
  })

/**
 * Whether a configuration keeps every promise in enough worlds: run in one after the other until that is plain, those first in which others
 * broke. Whatever the order, as many break.
 */
function holdsInEnough(worlds: ReturnType<typeof worldsOf>, certainty: number, index: number, groups: number): boolean {
  const mayBreak = Math.floor(worlds.length * (1 - certainty) + 1e-9)
  let [kept, broken] = [0, 0]
  for (const world of worlds.toSorted((a, b) => b.broke - a.broke)) {
    const { plan: there, candidates, requests, repetition } = world
    const candidate = candidates[index]
    const ran = run(there, { service: candidate.service, candidate, groups }, requests, { repetition })
    if (ran.kind === 'complete' && allHold(there, candidate.service, readings(there, candidate.service, ran.record))) kept++
    else [world.broke, broken] = [world.broke + 1, broken + 1]
    if (broken > mayBreak) return false
    if (kept >= worlds.length - mayBreak) return true
  }
  return true
}

/**
 * Tries every candidate with every number of machines, in order: what meets its targets with the fewest of each, and how many simulations
 * all draws of all of them are.
 */
export function tryEverything(plan: Plan): { feasible: Best[]; simulations: number } {
  const service = plan.services[0]
  const load = new Load(plan)
  const worlds = plan.certainty === undefined ? [] : worldsOf(plan, load)
  const feasible: Best[] = []
  let simulations = 0
  for (const candidate of enumerate(plan, service)) {
    if (!candidate.fit.fits) continue
    // A policy is tried with all the machines that it may have.
    for (let groups = candidate.elastic ? candidate.maxGroups : 1; groups <= candidate.maxGroups; groups++) {
      if (groups === 0) break
      const { machines } = fleetOf(candidate, groups)
      const runOf = (r: number) =>
        run(plan, { service: candidate.service, candidate, groups }, load.of(service, r), { repetition: r, toTheEnd: true })
      simulations += plan.repetitions
      const first = runOf(0)
      if (!allHold(plan, service, readings(plan, service, first.record))) continue // whatever the other draws say
      const runs = [first, ...Array.from({ length: plan.repetitions - 1 }, (_, i) => runOf(i + 1))]
      const values = runs.map((t) => readings(plan, service, t.record).map((x) => x.value))
      const meets = targetsOf(plan, service).every(
        ({ target }, i) =>
          certainty(
            values.map((v) => v[i]),
            target,
            plan.margin,
          ).certainty === 'meets',
      )
      if (!meets) continue
      if (plan.certainty !== undefined && !holdsInEnough(worlds, plan.certainty, candidate.index, groups)) continue
      feasible.push({
        perHour: candidate.paysByRun
          ? bestCommitted(
              runs.map(({ record, life }) => runPerHours(candidate, record, life, plan.horizon.seconds)),
              candidate.prices,
            ).perHour
          : costPerHour(candidate, groups),
        machines,
        machine: candidate.machine.name,
        variant: candidate.variant.name,
        devices: candidate.devices,
        sequences: candidate.sequences,
        policy: candidate.policy?.name ?? null,
        purchase: candidate.purchase,
        setting: candidate.setting,
        paysByRun: candidate.paysByRun,
      })
      break
    }
  }
  // A policy is of no use where a fixed number on the same place costs no more, if what that costs does not depend on the run.
  const steady = (f: Best) => !f.paysByRun
  const place = (f: Best) => JSON.stringify([f.machine, f.variant, f.devices, f.purchase])
  const ranked = feasible.filter(
    (f) => f.policy === null || !feasible.some((g) => steady(g) && place(g) === place(f) && g.perHour <= f.perHour + 1e-9),
  )
  return { feasible: ranked, simulations }
}
