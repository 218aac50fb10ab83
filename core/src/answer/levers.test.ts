import { withService } from '../../test/partOf.ts'
import { describe, expect, it } from 'vitest'
import { purchase } from '../cost/purchase.ts'
import { skerrySound } from '../../../examples/make/skerrySound.ts'
import { checkPlan } from '../plan/read.ts'
import { Load } from '../search/load.ts'
import { levers } from './levers.ts'

const plan = checkPlan({
  ...withService(skerrySound, 'pilot talk'),
  repetitions: 1,
  horizon: { ...skerrySound.horizon, seconds: 3 * 3600, warmupSeconds: 600 },
  classes: [
    {
      ...skerrySound.classes[0],
      arrivals: { kind: 'steady', ratePerSecond: 1.2 },
      targets: [{ measure: 'tpot', percentile: 95, seconds: 0.045 }],
    },
  ],
})
const option = {
  machine: 'Fenland twin',
  provider: 'Fenland',
  region: 'x',
  variant: '8-bit',
  devices: 2,
  sequences: 64,
  policy: 'follows the tide',
  purchase: purchase('committed'),
  setting: null,
}

describe('levers', () => {
  const load = new Load(plan)
  const steps = [...levers(plan, 'pilot talk', { option, machines: 6 }, [], load, (p) => new Load(p))]
  const report = steps.at(-1)!
  const strain = (words: string) => report.effects.find((e) => e.words === words)?.strain ?? NaN

  it('are told one after the other, all of them, the largest effect first', () => {
    expect([...new Set(steps.map((s) => s.settled))]).toEqual([...Array.from({ length: report.of + 1 }, (_, i) => i)])
    const sizes = report.effects.map((e) => (e.strain === null ? Infinity : Math.abs(e.strain - report.before.strain!)))
    expect(sizes).toEqual([...sizes].sort((a, b) => b - a))
    expect(new Set(report.effects.map((e) => e.words)).size).toBe(report.of)
  })

  it('move the way that they must: more load and slower memory press on the time per token, a lower target of the policy costs more and presses less', () => {
    const before = report.before.strain!
    expect(strain('10 % more load')).toBeGreaterThan(strain('10 % less load'))
    expect(strain('memory read 10 % slower than assumed')).toBeGreaterThan(before)
    const lower = report.effects.find((e) => e.words === 'a target of 8 for the policy')!
    const higher = report.effects.find((e) => e.words === 'a target of 13 for the policy')!
    expect(lower.perHour!).toBeGreaterThanOrEqual(higher.perHour!)
    expect(lower.strain!).toBeLessThanOrEqual(higher.strain!)
  })

  it('say what is owed to how unevenly requests come: clumps press more, bursts of the plan that are taken away press less', () => {
    const at = (bursts: object) => {
      const bursty = checkPlan({
        ...plan,
        classes: [
          {
            ...plan.classes[0],
            arrivals: { kind: 'steady', ratePerSecond: 1.2, ...bursts },
            targets: [{ measure: 'ttft', percentile: 95, seconds: 2 }],
          },
        ],
      })
      const own = new Load(bursty)
      const fixed = { option: { ...option, policy: null }, machines: 1 }
      return [...levers(bursty, 'pilot talk', fixed, [], own, (p) => new Load(p))].at(-1)!
    }
    const even = at({})
    const clumps = even.effects.find((e) => e.words === 'gaps between requests that vary 2 times as much as by chance')!
    expect(clumps.strain!).toBeGreaterThan(even.before.strain!)
    const uneven = at({ bursts: { kind: 'gamma', variation: 2 } })
    const chance = uneven.effects.find((e) => e.words === 'requests by pure chance, without their bursts')!
    // Either way it is the same two loads.
    expect([uneven.before.strain, chance.strain]).toEqual([clumps.strain, even.before.strain])
  })

  it('of a fixed number are a machine more or less, and what can not be had says so', () => {
    const fixed = [...levers(plan, 'pilot talk', { option: { ...option, policy: null }, machines: 1 }, [], load, (p) => new Load(p))].at(
      -1,
    )!
    const names = fixed.effects.map((e) => e.words)
    expect(names).toContain('one machine more')
    expect(fixed.effects.find((e) => e.words === 'one machine less')).toMatchObject({ strain: null, perHour: null })
    expect(fixed.effects.find((e) => e.words === 'one machine more')!.perHour).toBeCloseTo(2 * fixed.before.perHour!, 9)
  })

  it('that break the promise say what is rented then: the cheapest of the same with more machines and of the next best', () => {
    const one = { option: { ...option, policy: null }, machines: 1 }
    const dear = { option: { ...option, machine: 'Northquay cairn', policy: null }, machines: 1 }
    const heavy = {
      ...plan,
      classes: plan.classes.map((c) => ({ ...c, targets: [{ measure: 'tpot' as const, percentile: 95, seconds: 0.0379 }] })),
    }
    const heavyLoad = new Load(heavy)
    const told = [...levers(heavy, 'pilot talk', one, [dear], heavyLoad, (p) => new Load(p))].at(-1)!
    expect(told.before.strain).toBeLessThanOrEqual(1)
    const broken = told.effects.filter((e) => e.instead !== undefined)
    expect(broken.length, JSON.stringify(told)).toBeGreaterThan(0)
    for (const e of broken) {
      expect(e.strain).toBeGreaterThan(1)
      expect(e.instead?.words).toBe('2 × Fenland twin')
      expect(e.instead!.perHour).toBeCloseTo(2 * told.before.perHour!, 9)
    }
  })
})
