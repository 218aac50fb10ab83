import { certainty } from '../src/measure/certainty.ts'
import type { Plan } from '../src/plan/schema.ts'
import { costPerHour, enumerate, fleetOf } from '../src/search/candidate.ts'
import { bestCommitted, runPerHours } from '../src/cost/bill.ts'
import { purchaseName } from '../src/cost/purchase.ts'
import { hasLife, livingFleetOf } from '../src/search/life.ts'
import { Load } from '../src/search/load.ts'
import { readings, targetsOf, tryOut } from '../src/search/trial.ts'
import { profileOf } from '../src/search/trialRunner.ts'

/** What trying everything finds to hold. */
export interface Best {
  perHour: number
  machine: string
  variant: string
  devices: number
  sequences: number
  machines: number
  policy: string | null
  purchase: string
  setting: string | null
  paysByRun: boolean
}

/** Tries every candidate with every number of machines, in order: what meets its targets with the fewest of each, and how many simulations all draws of all of them are. */
export function tryEverything(plan: Plan): { feasible: Best[]; simulations: number } {
  const service = plan.services[0]
  const load = new Load(plan)
  const feasible: Best[] = []
  let simulations = 0
  for (const candidate of enumerate(plan, service)) {
    if (!candidate.fit.fits) continue
    // A policy is tried with all the machines that it may have.
    for (let groups = candidate.elastic ? candidate.maxGroups : 1; groups <= candidate.maxGroups; groups++) {
      if (groups === 0) break
      const { machines, replicas } = fleetOf(candidate, groups)
      const fleets = Array.from({ length: plan.repetitions }, (_, r) => (hasLife(candidate) ? livingFleetOf(plan, candidate, groups, r) : undefined))
      const trialOf = (r: number) => tryOut({ plan, service: candidate.service, fleet: fleets[r], profile: profileOf(candidate), replicas, requests: load.of(service, r), repetition: r, toTheEnd: true })
      simulations += fleets.length
      const first = trialOf(0)
      if (!first.holds) continue // whatever the other draws say
      const trials = fleets.map((_, r) => (r === 0 ? first : trialOf(r)))
      const values = trials.map((t) => (t.kind === 'complete' ? readings(plan, service, t.record).map((x) => x.value) : []))
      const meets = targetsOf(plan, service).every(({ target }, i) => certainty(values.map((v) => v[i]), target, plan.margin).certainty === 'meets')
      if (!meets) continue
      feasible.push({
        perHour: candidate.paysByRun ? bestCommitted(fleets.map((f, r) => runPerHours(candidate, recordOf(trials[r]), f!.record, plan.horizon.seconds)), candidate.prices).perHour : costPerHour(candidate, groups), machines, machine: candidate.machine.name, variant: candidate.variant.name, devices: candidate.devices, sequences: candidate.sequences, policy: candidate.policy?.name ?? null, purchase: purchaseName(candidate.purchase), setting: candidate.setting, paysByRun: candidate.paysByRun,
      })
      break
    }
  }
  // A policy is of no use where a fixed number on the same place costs no more, if what that costs does not depend on the run.
  const steady = (f: Best) => !f.paysByRun
  const place = (f: Best) => JSON.stringify([f.machine, f.variant, f.devices, f.purchase])
  const ranked = feasible.filter((f) => f.policy === null || !feasible.some((g) => steady(g) && place(g) === place(f) && g.perHour <= f.perHour + 1e-9))
  return { feasible: ranked, simulations }
}

function recordOf(trial: ReturnType<typeof tryOut>) {
  if (trial.kind !== 'complete') throw new Error('a trial to the end did not get there')
  return trial.record
}
