import { describe, expect, it } from 'vitest'
import { boughtPlan } from '../../test/smallPlan.ts'
import { checkPlan } from '../plan/read.ts'
import { RandomStream } from '../random/stream.ts'
import { driveHere } from '../search/drive.ts'
import { Load } from '../search/load.ts'
import { strainOf } from '../measure/targets.ts'
import { candidateOf } from '../candidate/named.ts'
import { targetsOf } from '../measure/placedTargets.ts'
import { wholeRun } from '../run/wholeRun.ts'
import { recommend } from './recommend.ts'
import { dustOf, settledLayers } from './settled.ts'

describe('the layers of what was settled', () => {
  it('hold every rejected option once, cheapest first, and nothing below the answer that was proved', () => {
    const random = new RandomStream(6, 'layers')
    for (let n = 0; n < 6; n++) {
      const plan = checkPlan(boughtPlan(random, n))
      const load = new Load(plan)
      const [service] = driveHere(recommend(plan, load), load).services
      const layers = settledLayers(service)
      const places = layers.flatMap((l) => [...l.places])
      expect([...places].sort((a, b) => a - b)).toEqual(service.rejected.map((_, i) => i))
      for (const { rule, perHour, places: of } of layers) {
        expect([...perHour]).toEqual([...perHour].sort((a, b) => a - b))
        expect([...of].every((i) => service.rejected[i].rejection.kind === rule)).toBe(true)
        // Who was ruled out for its cost costs no less than the chosen one.
        if (rule === 'dearer-bound' && service.chosen) expect(perHour[0]).toBeGreaterThanOrEqual(service.chosen.money.perHour - 1e-9)
      }
    }
  })

  it('options that fit lie where they cost no less and are no less tight: whoever is run lies above and beyond', () => {
    const random = new RandomStream(9, 'dust')
    const seen = { options: 0, run: 0 }
    for (let n = 0; n < 6; n++) {
      const plan = checkPlan(boughtPlan(random, n))
      const load = new Load(plan)
      const [service] = driveHere(recommend(plan, load), load).services
      const dust = dustOf(service)
      expect([...dust.perHour]).toEqual([...dust.perHour].sort((a, b) => a - b))
      seen.options += dust.places.length
      dust.places.forEach((place, i) => {
        const option = service.rejected[place]
        const candidate = candidateOf(plan, plan.services[0], option)!
        const run = wholeRun(plan, { service: plan.services[0], candidate, groups: candidate.maxGroups }, load.of(plan.services[0], 0))
        const strains = run.readings.map(({ value }, t) =>
          value === undefined ? 0 : strainOf(value, targetsOf(plan, plan.services[0])[t].target, plan.margin),
        )
        expect(Math.max(...strains), `${option.machine} ${option.reason}`).toBeGreaterThanOrEqual(dust.strain[i] - 1e-9)
        seen.run++
      })
    }
    expect(seen.run).toBeGreaterThan(20)
  })
})
