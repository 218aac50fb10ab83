import { describe, expect, it } from 'vitest'
import { livingPlan } from '../../test/smallPlan.ts'
import { recommend } from '../answer/recommend.ts'
import { checkPlan } from '../plan/read.ts'
import type { Machine, Plan, Service } from '../plan/schema.ts'
import { RandomStream } from '../random/stream.ts'
import { driveHere } from './drive.ts'
import { Load } from './load.ts'

const answerTo = (plan: Plan, load = new Load(plan)) => driveHere(recommend(plan, load), load)
const searching = (plan: Plan, more: Partial<NonNullable<Service['search']>>): Plan =>
  checkPlan({ ...plan, services: plan.services.map((s) => ({ ...s, search: { ...s.search!, ...more } })) })
const PLACES = [
  { region: 'north', zone: 'a', provider: 'Northquay', trust: 2 },
  { region: 'north', zone: 'b', provider: 'Fenland' },
  { region: 'wash', zone: 'c', provider: 'Fenland', trust: 1 },
  { region: 'wash', provider: 'Northquay', trust: 2 },
]
const placed = (plan: Plan): Plan => ({ ...plan, machines: plan.machines.map((m, i) => ({ ...m, ...PLACES[i % PLACES.length] })) })

describe('conditions on the search', () => {
  it('give the answer of a market that has nothing else, and every other offer is told with its reason', () => {
    const random = new RandomStream(9, 'conditions')
    let chosen = 0
    for (let n = 0; n < 4; n++) {
      const plan = checkPlan(placed({ ...livingPlan(random, n), repetitions: 1 }))
      const conditions: [Partial<NonNullable<Service['search']>>, (m: Machine) => boolean, RegExp][] = [
        [{ regions: ['north'] }, (m) => m.region === 'north', /^it stands in wash, and machines may stand in north alone$/],
        [
          { zones: ['a', 'c'] },
          (m) => m.zone === 'a' || m.zone === 'c',
          /^it stands in (b|no stated zone), and machines may stand in a or c alone$/,
        ],
        [{ providers: ['Fenland'] }, (m) => m.provider === 'Fenland', /^it is rented out by Northquay, and Fenland alone may be asked$/],
        [{ leastTrust: 2 }, (m) => (m.trust ?? 0) >= 2, /^its host states a trust of [01], and at least 2 is wanted$/],
      ]
      for (const [conditioned, may, reason] of conditions) {
        const left = plan.machines.filter(may)
        if (left.length === 0 || left.length === plan.machines.length) continue
        const [those] = answerTo(searching(plan, conditioned)).services
        const [alone] = answerTo({ ...plan, machines: left }).services
        expect(those.chosen).toEqual(alone.chosen)
        expect(those.runnersUp).toEqual(alone.runnersUp)
        const outside = those.rejected.filter((r) => !left.some((m) => m.name === r.machine))
        expect(outside.length).toBeGreaterThan(0)
        for (const r of outside) expect(r.reason).toMatch(reason)
        chosen += those.chosen ? 1 : 0
      }
    }
    expect(chosen).toBeGreaterThan(3)
  })

  it('name what there is', () => {
    const plan = placed(livingPlan(new RandomStream(1, 'conditions'), 1))
    expect(() => searching(plan, { regions: ['nroth'] })).toThrow(
      /search\.regions\[0\] is "nroth": it must be a name that stands in "machines"/,
    )
    expect(() => searching(plan, { leastTrust: 9 })).toThrow(/leastTrust is 9: it must be at most what some machine states/)
  })
})

describe('the surcharge of a managed service', () => {
  it('costs what machines do whose prices have it in them, whatever they are paid by', () => {
    const random = new RandomStream(3, 'surcharge')
    const dearer = (price: number | undefined) => price && price * 1.25 + 0.1
    const seen = new Set<string>()
    for (let n = 0; n < 5; n++) {
      const drawn = livingPlan(random, n)
      const sold = drawn.machines.map((m) => ({ ...m, committedPerHour: 0.8 * m.pricePerHour!, spotPerHour: 0.7 * m.pricePerHour! }))
      const plan = searching({ ...drawn, repetitions: 1, machines: sold }, { purchases: ['on-demand', 'committed', 'spot', 'mixed'] })
      const apart = { ...plan, machines: plan.machines.map((m) => ({ ...m, surchargeShare: 0.25, surchargePerHour: 0.1 })) }
      const within = {
        ...plan,
        machines: plan.machines.map(({ pricePerHour, spotPerHour, committedPerHour, ...m }) => ({
          ...m,
          ...(pricePerHour !== undefined && { pricePerHour: dearer(pricePerHour) }),
          ...(spotPerHour !== undefined && { spotPerHour: dearer(spotPerHour) }),
          ...(committedPerHour !== undefined && { committedPerHour: dearer(committedPerHour) }),
        })) as Machine[],
      }
      const [a, b, bare] = [apart, within, plan].map((p) => answerTo(checkPlan(p)).services[0])
      expect(a.chosen).toEqual(b.chosen)
      expect(a.runnersUp).toEqual(b.runnersUp)
      if (!a.chosen || !bare.chosen) continue
      expect(a.chosen.money.perHour).toBeGreaterThan(bare.chosen.money.perHour * 1.2)
      for (const c of [a.chosen, ...a.runnersUp]) seen.add(c.purchase.kind)
    }
    expect(seen.size).toBeGreaterThan(1)
  })
})
