import { describe, expect, it } from 'vitest'
import { skerrySound } from '../../../examples/make/skerrySound.ts'
import { driveHere } from '../search/drive.ts'
import { Load } from '../search/load.ts'
import type { Plan } from '../plan/schema.ts'
import { answerWords } from './answerWords.ts'
import { recommend } from './recommend.ts'

const [talk] = skerrySound.services
const [desk] = skerrySound.classes

/** An hour of the pilot talk on one kind of machine, routed round-robin. */
function inTurns(search: Partial<NonNullable<typeof talk.search>>): Plan {
  const { start: _, ...bare } = talk
  return {
    ...skerrySound,
    repetitions: 2,
    horizon: { ...skerrySound.horizon, seconds: 3600, warmupSeconds: 300 },
    classes: [{ ...desk, arrivals: { kind: 'steady', ratePerSecond: 4 }, targets: [{ measure: 'latency', percentile: 95, seconds: 45 }] }],
    services: [
      {
        ...bare,
        startupSeconds: 0,
        routing: 'round-robin',
        policies: [],
        search: { sequences: [16], devices: [1], variants: ['8-bit'], machines: ['Northquay ledge'], ...search },
      },
    ],
  }
}

function answerTo(plan: Plan) {
  const load = new Load(plan)
  return driveHere(recommend(plan, load), load)
}

describe('an answer that is run otherwise than its service states', () => {
  it('costs what the service costs that states it, is measured as such, and says it in words', () => {
    const stated = answerTo({ ...inTurns({}), services: inTurns({}).services.map((s) => ({ ...s, routing: 'least-busy' as const })) })
    const own = answerTo(inTurns({}))
    const tried = answerTo(inTurns({ routings: ['least-busy'] }))
    const [chosen] = tried.services.map((s) => s.chosen)
    // In turns it takes more machines; that is what makes the other the answer.
    expect(stated.perHour).toBeLessThan(own.perHour)
    expect(chosen?.setting).toEqual({ routing: 'least-busy' })
    expect(tried.perHour).toBe(stated.perHour)
    expect(tried.services[0].classes).toEqual(stated.services[0].classes)
    expect(chosen?.targets).toEqual(stated.services[0].chosen?.targets)
    expect(answerWords(tried).join(' ')).toContain('16 side by side, least-busy routing')
    expect(tried.services[0].candidates).toBe(2 * own.services[0].candidates)
  })
})
