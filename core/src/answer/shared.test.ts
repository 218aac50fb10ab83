import { describe, expect, it } from 'vitest'
import { skerrySound } from '../../../examples/make/skerrySound.ts'
import { solve } from '../../test/solver.ts'
import { driveHere } from '../search/drive.ts'
import { Load } from '../search/load.ts'
import type { Plan } from '../plan/schema.ts'
import { answerWords } from './answerWords.ts'
import { recommend } from './recommend.ts'

/** Two services of eight hours on one machine: each has its busy hour when the other has not. */
function twoShores(committedPerHour: number): Plan {
  const [talk] = skerrySound.services
  const [desk] = skerrySound.classes
  const busyIn = (hour: number) => ({
    kind: 'hourly' as const,
    ratesPerSecond: [0, 1, 2, 3, 4, 5, 6, 7].map((h) => (h === hour ? 4 : 0.1)),
  })
  const shore = (name: string, hour: number) => ({
    service: {
      ...talk,
      name,
      search: { sequences: [32], devices: [1], machines: ['Northquay ledge'], variants: ['8-bit'], purchases: ['committed' as const] },
      policies: [{ name: 'follows', min: 1, max: 3, metrics: [{ metric: 'in-flight' as const, target: 10 }] }],
    },
    class: {
      ...desk,
      name: `${name} desk`,
      service: name,
      arrivals: busyIn(hour),
      targets: [{ measure: 'latency' as const, percentile: 80, seconds: 60 }],
    },
  })
  const shores = [shore('near', 1), shore('far', 5)]
  return {
    ...skerrySound,
    repetitions: 2,
    horizon: { ...skerrySound.horizon, seconds: 8 * 3600, warmupSeconds: 600 },
    services: shores.map((s) => s.service),
    classes: shores.map((s) => s.class),
    machines: skerrySound.machines.map((m) => ({
      ...m,
      ...(m.name === 'Northquay ledge' && { pricePerHour: 2, committedPerHour, stock: 20, quota: 20 }),
    })),
  }
}

function answerTo(plan: Plan) {
  const load = new Load(plan)
  return driveHere(recommend(plan, load), load, undefined, solve)
}

describe('services that commit to machines together', () => {
  it('share a place that neither would commit to alone; the plan costs so much less than both by themselves', () => {
    const answer = answerTo(twoShores(0.5))
    const apart = answer.services.reduce((sum, s) => sum + (s.chosen?.money.perMonth ?? 0), 0)
    const [shared] = answer.money.shared
    expect(answer.money.shared).toHaveLength(1)
    expect(shared).toMatchObject({ machine: 'Northquay ledge', services: ['near', 'far'] })
    expect(shared.committedMachines).toBeGreaterThan(shared.apartMachines)
    expect(answer.perMonth).toBeCloseTo(apart - shared.savedPerMonth + answer.money.fixed.reduce((sum, f) => sum + f.perMonth, 0), 6)
    expect(answerWords(answer).join(' ').replaceAll(/\s/g, ' ')).toMatch(
      /near and far commit to \d × Northquay ledge together instead of \d, which saves [\d ,.]+ EUR a month/,
    )
  })

  it('do not where a place costs nearly what it saves', () => {
    expect(answerTo(twoShores(1.9)).money.shared).toEqual([])
  })
})
