import { describe, expect, it } from 'vitest'
import { boughtPlan } from '../../test/smallPlan.ts'
import { checkPlan } from '../plan/read.ts'
import { RandomStream } from '../random/stream.ts'
import { driveHere } from '../search/drive.ts'
import { MOST_DRAWS } from '../search/decide.ts'
import { Load } from '../search/load.ts'
import { nearestCheaper } from './nearestCheaper.ts'
import { recommend } from './recommend.ts'
import { isTie } from './verdict.ts'

describe('a tie', () => {
  it('is said where the draws leave open which costs less, and the means differ by what is said', () => {
    const random = new RandomStream(8, 'ties')
    const seen = { tie: 0, dearer: 0, more: 0 }
    for (let n = 0; n < 14; n++) {
      const plan = checkPlan({ ...boughtPlan(random, n), repetitions: 3 })
      const load = new Load(plan)
      const [{ chosen, runnersUp }] = driveHere(recommend(plan, load), load).services
      expect(chosen?.dearer ?? null).toBeNull()
      for (const c of runnersUp) {
        const { runs, mean, low, high } = c.dearer!
        // Over the plan's own draws it is the difference of what is said; further ones are run as long as it is open.
        if (runs === 3) expect(mean).toBeCloseTo(c.money.perMonth - chosen!.money.perMonth, 6)
        else seen.more++
        if (isTie(c) && low < high) expect(runs).toBe(MOST_DRAWS)
        seen[isTie(c) ? 'tie' : 'dearer']++
        // Fixed fleets cost what they cost: nothing is open between them.
        const steady = (x: typeof c) => x.policy === null && (x.purchase.kind === 'on-demand' || x.purchase.kind === 'committed')
        if (steady(c) && steady(chosen!) && !plan.services[0].losses) expect(isTie(c)).toBe(Math.abs(c.dearer!.mean) < 1e-9)
      }
    }
    expect(Math.min(seen.tie, seen.dearer, seen.more), JSON.stringify(seen)).toBeGreaterThan(0)
  })
})

describe('the nearest that costs less', () => {
  it('is one whose cost is known: never a policy or calls, whose runs were stopped when they missed', () => {
    const random = new RandomStream(18, 'nearest')
    let named = 0
    let stopped = 0
    for (let n = 0; n < 14; n++) {
      const plan = checkPlan(boughtPlan(random, n))
      const load = new Load(plan)
      const [service] = driveHere(recommend(plan, load), load).services
      stopped += service.rejected.filter((r) => r.rejection.kind === 'limit' && r.purchase.kind === 'per-request').length
      const nearest = nearestCheaper(service)
      if (!nearest) continue
      named++
      expect([nearest.option.policy, nearest.option.purchase.kind === 'per-request']).toEqual([null, false])
      expect(nearest.perHour).toBeGreaterThan(0)
      expect(nearest.perHour).toBeLessThan(service.chosen!.money.perHour)
    }
    expect(Math.min(named, stopped)).toBeGreaterThan(0)
  })
})
