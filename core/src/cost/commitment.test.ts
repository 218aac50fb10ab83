import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { bestCommitment } from './commitment.ts'

const series = fc.array(fc.tuple(fc.integer({ min: 1, max: 200 }), fc.integer({ min: 0, max: 7 })), { minLength: 1, maxLength: 30 }).map((list) => {
  let at = 0
  const seconds = list.map(([length]) => (at += length) - length)
  return { machines: { seconds, values: list.map(([, n]) => n) }, horizon: at }
})

describe('what is committed to', () => {
  it('is the cheapest of all numbers, tried one after the other', () => {
    fc.assert(fc.property(series, fc.double({ min: 0.1, max: 3, noNaN: true }), ({ machines, horizon }, committedPrice) => {
      const best = bestCommitment(machines, horizon, 2, committedPrice)
      const costOf = (c: number) => c * committedPrice + machines.values.reduce((sum, n, i) => sum + (2 * Math.max(0, n - c) * ((machines.seconds[i + 1] ?? horizon) - machines.seconds[i])) / horizon, 0)
      const all = Array.from({ length: 9 }, (_, c) => costOf(c))
      expect(best.perHour).toBeCloseTo(Math.min(...all), 9)
      expect(best.perHour).toBeCloseTo(costOf(best.committed), 9)
      expect(best.onDemandPerHour).toBeCloseTo(costOf(0), 9)
      expect(best.unusedPerHour).toBeGreaterThanOrEqual(-1e-9)
    }), { numRuns: 300, seed: 9 })
  })

  it('by hand: one machine all the time, a second for a fifth of it; 1.22 committed against 1.94 on demand', () => {
    const best = bestCommitment({ seconds: [0, 400, 600], values: [1, 2, 1] }, 1000, 1.94, 1.22)
    expect(best).toEqual({ committed: 1, perHour: expect.closeTo(1.22 + 0.2 * 1.94, 9) as number, onDemandPerHour: expect.closeTo(1.2 * 1.94, 9) as number, unusedPerHour: 0 })
  })
})
