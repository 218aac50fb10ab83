import { describe, expect, it } from 'vitest'
import { skerrySound } from '../../../examples/make/skerrySound.ts'
import { livingPlan } from '../../test/smallPlan.ts'
import { Meter } from '../engine/meter.ts'
import { checkPlan } from '../plan/read.ts'
import type { Configuration, Plan } from '../plan/schema.ts'
import { RandomStream } from '../random/stream.ts'
import { Load } from '../search/load.ts'
import { configured } from './configured.ts'
import { machineUse, machineUseTable, meanAndMost, USES, type Use } from './machineUse.ts'
import { observedRun } from './observedRun.ts'

const demo = checkPlan(skerrySound)
function specOf(plan: Plan, stated: Configuration, service = plan.services[0]) {
  const ready = configured(plan, service, stated)
  if (!ready.ok) throw new Error('it can be had')
  return ready.spec
}

describe('use of machines', () => {
  it('by hand: two fleets on one offer, by devices, places, bytes and what steps read', () => {
    const plan = { ...demo, horizon: { ...demo.horizon, seconds: 100 } }
    const place = { machine: 'Fenland twin', variant: '8-bit', devices: 1, sequences: 8 }
    const { candidate } = specOf(plan, { ...place, replicas: 2 })
    const { fit } = candidate
    if (!fit.fits || !fit.memory) throw new Error('it fits')
    // One machine has two devices, and so two replicas of 8 places.
    const meters = [new Meter(100, 1), new Meter(100, 1)]
    meters[0].span(0, 0, 40, 4, 1000, 1000, 30, 10)
    meters[1].span(0, 0, 100, 8, 0, 0, 20, 60)
    const [use] = machineUse(
      plan,
      meters.map((meter) => ({ candidate, groups: 1, life: null, meter })),
    )
    expect([use.machine, use.machines[0]]).toEqual(['Fenland twin', 2])
    const { memoryEfficiency, arithmeticEfficiency } = plan.assumptions
    const bytes = 4 * 100 * (fit.memory.weightBytes + fit.memory.activationBytes) + 40 * 1000 * fit.memory.cacheBytesPerToken
    const expected: Record<Use, number> = {
      busy: (40 + 100) / 400,
      sequences: (40 * 4 + 100 * 8) / (4 * 8 * 100),
      memory: bytes / (4 * candidate.machine.memoryBytesPerDevice * 100),
      bandwidth: ((30 + 20) / 400) * memoryEfficiency,
      arithmetic: ((10 + 60) / 400) * arithmeticEfficiency,
    }
    for (const of of Object.keys(USES) as Use[]) expect(use.uses[of]![0], of).toBeCloseTo(expected[of], 9)
    expect(meanAndMost(use, 'busy')).toEqual({ mean: expect.closeTo(0.35, 9), most: expect.closeTo(0.35, 9), at: 0 })
    expect(machineUseTable([use]).rows[0].slice(0, 4)).toEqual(['Fenland twin', '2.00', '35.0\u00a0%', '35.0\u00a0%'])
  })

  it('of a run is never more than there is, nor more reached than was busy', () => {
    const random = new RandomStream(4, 'use')
    let looked = 0
    for (let n = 0; n < 8; n++) {
      const plan = checkPlan(livingPlan(random, n))
      const [service] = plan.services
      const requests = new Load(plan).of(service, 0)
      for (const policy of [undefined, service.policies?.[0]?.name]) {
        for (const { name } of plan.machines) {
          const ready = configured(plan, service, { machine: name, variant: '8-bit', sequences: 8, replicas: 1, ...(policy && { policy }) })
          if (!ready.ok) continue
          const { meter, life } = observedRun(plan, ready.spec, requests)
          const { candidate, groups } = ready.spec
          const [{ machines, uses }] = machineUse(plan, [{ candidate, groups, life, meter }])
          machines.forEach((there, i) => {
            const at = (of: Use) => uses[of]?.[i] ?? 0
            if (there === 0) return
            for (const of of Object.keys(USES) as Use[]) expect(at(of), of).toBeLessThan(1 + 1e-9)
            expect(Math.max(at('bandwidth'), at('arithmetic'))).toBeLessThan(at('busy') + 1e-9)
          })
          expect(meanAndMost({ machines, uses } as Parameters<typeof meanAndMost>[0], 'busy')?.most).toBeGreaterThan(0)
          looked++
        }
      }
    }
    expect(looked).toBeGreaterThan(10)
  })
})
