import { describe, expect, it } from 'vitest'
import { smallPlan, variedPlan } from '../../test/smallPlan.ts'
import { checkPlan } from '../plan/read.ts'
import { RandomStream } from '../random/stream.ts'
import { busiestOf, hasBusiest } from './busiest.ts'
import { enumerate } from '../candidate/enumerate.ts'
import { Load } from '../search/load.ts'
import { brokenInBusiest } from './run.ts'
import { wholeRun } from './wholeRun.ts'

const random = new RandomStream(31, 'stretches')
const plans = Array.from({ length: 24 }, (_, n) => checkPlan((n % 2 === 0 ? smallPlan : variedPlan)(random, n)))

describe('the busiest stretch', () => {
  it('has all requests of its time and only those, and is found once', () => {
    for (const plan of plans) {
      const requests = new Load(plan).of(plan.services[0], 0)
      const busiest = busiestOf(plan, requests)
      if (!busiest) continue
      const there = [...requests.at.subarray(0, requests.count)].filter((at) => at >= busiest.fromSeconds && at < busiest.untilSeconds)
      expect([...busiest.requests.at]).toEqual(there)
      expect(busiestOf(plan, requests)).toBe(busiest)
    }
  })

  it('breaks only what the whole breaks too, on every machine, number and draw', () => {
    const seen = { plans: 0, broken: 0, held: 0 }
    for (const plan of plans) {
      const [service] = plan.services
      const load = new Load(plan)
      if (!hasBusiest(plan, service, load.of(service, 0))) continue
      seen.plans++
      for (const candidate of enumerate(plan, service).filter((c) => c.fit.fits && !c.policy)) {
        for (let groups = 1; groups <= Math.min(4, candidate.maxGroups); groups++) {
          const spec = { service, candidate, groups }
          if (!brokenInBusiest(plan, spec, load.of(service, 0))) {
            seen.held++
            continue
          }
          seen.broken++
          expect(wholeRun(plan, spec, load.of(service, 0)).holds, `${plan.name} ${candidate.machine.name} × ${groups}`).toBe(false)
        }
      }
    }
    expect(Math.min(seen.plans, seen.broken, seen.held), JSON.stringify(seen)).toBeGreaterThan(5)
  })
})
