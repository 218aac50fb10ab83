import { describe, expect, it } from 'vitest'
import { certainty } from '../../src/measure/certainty.ts'
import { checkPlan } from '../../src/plan/read.ts'
import type { Plan } from '../../src/plan/schema.ts'
import { RandomStream } from '../../src/random/stream.ts'
import { costPerHour, enumerate, fleetOf } from '../../src/search/candidate.ts'
import { hasLife, livingFleetOf, paidPerHour } from '../../src/search/life.ts'
import { driveHere } from '../../src/search/drive.ts'
import { Load } from '../../src/search/load.ts'
import { recommend } from '../../src/answer/recommend.ts'
import { RANKED } from '../../src/search/searchService.ts'
import { readings, targetsOf, tryOut } from '../../src/search/trial.ts'
import { profileOf } from '../../src/search/trialRunner.ts'
import { livingPlan, smallPlan, variedPlan } from '../smallPlan.ts'

interface Best {
  perHour: number
  machine: string
  variant: string
  devices: number
  sequences: number
  machines: number
  policy: string | null
}

/** Tries every candidate with every number of machines, in order: what meets its targets with the fewest of each. */
function tryEverything(plan: Plan): Best[] {
  const service = plan.services[0]
  const load = new Load(plan)
  const feasible: Best[] = []
  for (const candidate of enumerate(plan, service)) {
    if (!candidate.fit.fits) continue
    // A policy is tried with all the machines that it may have.
    for (let groups = candidate.policy ? candidate.maxGroups : 1; groups <= candidate.maxGroups; groups++) {
      if (groups === 0) break
      const { machines, replicas } = fleetOf(candidate, groups)
      const fleets = Array.from({ length: plan.repetitions }, (_, r) => (hasLife(service, candidate) ? livingFleetOf(plan, service, candidate, groups, r) : undefined))
      const trials = fleets.map((fleet, r) =>
        tryOut({ plan, service, fleet, profile: profileOf(candidate), replicas, requests: load.of(service, r), repetition: r, toTheEnd: true }))
      const values = trials.map((t) => (t.kind === 'complete' ? readings(plan, service, t.record).map((x) => x.value) : []))
      const meets = targetsOf(plan, service).every(({ target }, i) => certainty(values.map((v) => v[i]), target, plan.margin).certainty === 'meets')
      if (!trials[0].holds || !meets) continue
      feasible.push({
        perHour: candidate.policy ? fleets.reduce((sum, f) => sum + paidPerHour(candidate, f!.record, plan.horizon.seconds), 0) / fleets.length : costPerHour(candidate, groups), machines, machine: candidate.machine.name, variant: candidate.variant.name, devices: candidate.devices, sequences: candidate.sequences, policy: candidate.policy?.name ?? null,
      })
      break
    }
  }
  // A policy is of no use where a fixed number on the same place costs no more.
  const place = (f: Best) => JSON.stringify([f.machine, f.variant, f.devices])
  return feasible.filter((f) => f.policy === null || !feasible.some((g) => g.policy === null && place(g) === place(f) && g.perHour <= f.perHour + 1e-9))
}

function search(plan: Plan) {
  const load = new Load(plan)
  return driveHere(recommend(plan, load), load)
}

describe('the search and trying everything', () => {
  const random = new RandomStream(5, 'small plans')
  const rare = new RandomStream(6, 'varied plans')
  const living = new RandomStream(7, 'living plans')
  const plans = [
    ...Array.from({ length: 40 }, (_, i) => checkPlan(smallPlan(random, i))),
    ...Array.from({ length: 30 }, (_, i) => checkPlan(variedPlan(rare, 40 + i))),
    ...Array.from({ length: 30 }, (_, i) => checkPlan(livingPlan(living, 70 + i))),
  ]
  const seen = { feasible: 0, infeasible: 0, saved: 0, followed: 0 }

  it.each(plans.map((plan, i) => [i, plan] as const))('agree on small plan %d', (_, plan) => {
    const feasible = tryEverything(plan)
    const answer = search(plan)
    const [service] = answer.services
    const { chosen } = service
    if (feasible.length === 0) {
      seen.infeasible++
      expect(chosen).toBeNull()
      expect(answer.meets).toBe(false)
    } else {
      seen.feasible++
      // The cheapest of all, exactly as trying everything has it; of several that cost the same any may be chosen.
      const cheapest = Math.min(...feasible.map((f) => f.perHour))
      expect(chosen && { perHour: chosen.money.perHour, machine: chosen.machine, variant: chosen.variant, devices: chosen.devices, sequences: chosen.sequences, machines: chosen.machines, policy: chosen.policy }).toBeOneOf(feasible.filter((f) => f.perHour === cheapest))
      // The runners-up are the next cheapest of other machines, variants and device counts.
      const byKey = new Map<string, number>()
      for (const f of feasible) {
        const key = `${f.machine} ${f.variant} ${f.devices} ${f.policy ?? ''}`
        byKey.set(key, Math.min(byKey.get(key) ?? Infinity, f.perHour))
      }
      const costs = [...byKey.values()].sort((a, b) => a - b).slice(0, RANKED)
      expect([chosen, ...service.runnersUp].map((c) => c?.money.perHour)).toEqual(costs)
    }
    const ranked = (service.chosen ? 1 : 0) + service.runnersUp.length
    expect(ranked + service.rejected.length).toBe(service.candidates)
    expect(ranked).toBeLessThanOrEqual(feasible.length)
    for (const r of service.rejected) expect(r.reason, JSON.stringify(r)).toMatch(/\d/)
    if (service.simulations < service.candidates) seen.saved++
    if ([chosen, ...service.runnersUp].some((c) => c?.policy)) seen.followed++
  })

  it('the plans above were of both kinds, and the search saved work on some', () => {
    expect(seen.feasible).toBeGreaterThan(8)
    expect(seen.infeasible).toBeGreaterThan(1)
    expect(seen.saved).toBeGreaterThan(5)
    expect(seen.followed, 'plans for which a policy is among the ranked').toBeGreaterThan(5)
  })
})
