import { describe, expect, it } from 'vitest'
import { checkPlan } from '../../src/plan/read.ts'
import type { Plan } from '../../src/plan/schema.ts'
import { RandomStream } from '../../src/random/stream.ts'
import type { Answer } from '../../src/answer/answer.ts'
import { driveElsewhere, trialsHere } from '../../src/search/drive.ts'
import { Load } from '../../src/search/load.ts'
import { recommend } from '../../src/answer/recommend.ts'
import { purchaseKey } from '../../src/cost/purchase.ts'
import { RANKED } from '../../src/search/searchService.ts'
import { boughtPlan, livingPlan, settingsPlan, smallPlan, soldPlan, surePlan, unloadingPlan, variedPlan } from '../smallPlan.ts'
import { solveLater } from '../solver.ts'
import { tryEverything } from '../tryEverything.ts'

/** The answer, and how many busiest stretches ruled a number out. */
async function search(plan: Plan): Promise<{ answer: Answer; stretches: number }> {
  const load = new Load(plan)
  const run = trialsHere(load)
  let stretches = 0
  const answer = await driveElsewhere(recommend(plan, load), {
    run: (order) => {
      const result = run(order)
      if (order.busiest && !result.holds) stretches++
      return Promise.resolve(result)
    },
    solve: solveLater,
  })
  return { answer, stretches }
}

describe('the search and trying everything', () => {
  const random = new RandomStream(5, 'small plans')
  const rare = new RandomStream(6, 'varied plans')
  const living = new RandomStream(7, 'living plans')
  const paying = new RandomStream(8, 'bought plans')
  const setting = new RandomStream(9, 'plans with settings')
  const unloading = new RandomStream(11, 'plans that unload')
  const sure = new RandomStream(12, 'plans that ask for a certainty')
  const tokens = new RandomStream(10, 'plans with tokens for sale')
  const plans = [
    ...Array.from({ length: 40 }, (_, i) => checkPlan(smallPlan(random, i))),
    ...Array.from({ length: 30 }, (_, i) => checkPlan(variedPlan(rare, 40 + i))),
    ...Array.from({ length: 30 }, (_, i) => checkPlan(livingPlan(living, 70 + i))),
    ...Array.from({ length: 16 }, (_, i) => checkPlan(boughtPlan(paying, 100 + i))),
    ...Array.from({ length: 10 }, (_, i) => checkPlan(settingsPlan(setting, 116 + i))),
    ...Array.from({ length: 14 }, (_, i) => checkPlan(soldPlan(tokens, 126 + i))),
    ...Array.from({ length: 12 }, (_, i) => checkPlan(unloadingPlan(unloading, 140 + i))),
    ...Array.from({ length: 16 }, (_, i) => checkPlan(surePlan(sure, 152 + i))),
  ]
  const seen = { stretched: 0, feasible: 0, infeasible: 0, saved: 0, followed: 0, otherwise: 0, unsure: 0, paid: new Set<string>() }

  it.each(plans.map((plan, i) => [i, plan] as const))('agree on small plan %d', async (_, plan) => {
    const { feasible } = tryEverything(plan)
    const { answer, stretches } = await search(plan)
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
      expect(
        chosen && {
          perHour: chosen.money.perHour,
          machine: chosen.machine,
          variant: chosen.variant,
          devices: chosen.devices,
          sequences: chosen.sequences,
          machines: chosen.machines,
          policy: chosen.policy,
          purchase: chosen.purchase,
          setting: chosen.setting,
        },
      ).toBeOneOf(feasible.filter((f) => f.perHour === cheapest).map(({ paysByRun: _, ...f }) => f))
      // The runners-up are the next cheapest of other machines, variants and device counts.
      const byKey = new Map<string, number>()
      for (const f of feasible) {
        const key = `${f.machine} ${f.variant} ${f.devices} ${f.policy ?? ''} ${purchaseKey(f.purchase)}`
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
    if (stretches > 0) seen.stretched++
    if (chosen) seen.paid.add(chosen.purchase.kind)
    if (chosen?.setting) seen.otherwise++
    if (service.rejected.some((r) => 'missed' in r.rejection && r.rejection.missed.worlds)) seen.unsure++
    if ([chosen, ...service.runnersUp].some((c) => c?.policy)) seen.followed++
  })

  it('the plans above were of both kinds, and the search saved work on some', () => {
    expect(seen.feasible).toBeGreaterThan(8)
    expect(seen.infeasible).toBeGreaterThan(1)
    expect(seen.saved).toBeGreaterThan(5)
    expect(seen.stretched, 'plans of which the busiest stretch ruled something out').toBeGreaterThan(5)
    expect([...seen.paid].sort(), 'ways of paying that were chosen').toEqual([
      'committed',
      'mixed',
      'on-demand',
      'per-request',
      'per-token',
      'spot',
    ])
    expect(seen.otherwise, 'plans of which the winner is run otherwise than stated').toBeGreaterThan(1)
    expect(seen.unsure, 'plans of which something is out since too few of its worlds hold').toBeGreaterThan(5)
    expect(seen.followed, 'plans for which a policy is among the ranked').toBeGreaterThan(5)
  })
})
