import { describe, expect, it } from 'vitest'
import { boughtPlan } from '../../test/smallPlan.ts'
import { checkPlan } from '../plan/read.ts'
import { RandomStream } from '../random/stream.ts'
import { driveHere } from '../search/drive.ts'
import { Load } from '../search/load.ts'
import { recommend } from './recommend.ts'
import { settledLayers } from './settled.ts'

describe('the layers of what was settled', () => {
  it('hold every rejected option once, cheapest first, and nothing below the answer that was proved', () => {
    const random = new RandomStream(6, 'layers')
    for (let n = 0; n < 6; n++) {
      const plan = checkPlan(boughtPlan(random, n))
      const load = new Load(plan)
      const [service] = driveHere(recommend(plan, load), load).services
      const layers = settledLayers(plan, service)
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
})
