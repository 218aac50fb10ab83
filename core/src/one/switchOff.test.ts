import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { bestTimeout, clairvoyantCost, costOfTimeout, fairTimeout, gapsBetween, type IdlePrices } from './switchOff.ts'

const prices = fc
  .record({
    away: fc.double({ min: 0, max: 0.01, noNaN: true }),
    more: fc.double({ min: 1e-4, max: 1, noNaN: true }),
    comeBack: fc.double({ min: 0, max: 500, noNaN: true }),
  })
  .map(({ away, more, comeBack }): IdlePrices => ({ keptPerSecond: away + more, awayPerSecond: away, comeBack }))
const gaps = fc.array(fc.oneof(fc.double({ min: 0, max: 10, noNaN: true }), fc.double({ min: 0, max: 1e5, noNaN: true })), {
  maxLength: 40,
})

describe('when to switch off', () => {
  it('by the fair time-out costs never more than twice what somebody pays who knows the gaps, over 1,000 random sequences', () => {
    fc.assert(
      fc.property(gaps, prices, (list, p) => {
        const { cost } = costOfTimeout(list, p, fairTimeout(p))
        expect(cost).toBeLessThanOrEqual(2 * clairvoyantCost(list, p) * (1 + 1e-9) + 1e-9)
      }),
      { numRuns: 1000 },
    )
  })

  it('comes to twice that where every gap is just longer than it: nothing better can be promised', () => {
    const p: IdlePrices = { keptPerSecond: 0.01, awayPerSecond: 0, comeBack: 6 }
    expect(fairTimeout(p)).toBe(600)
    const list = [601, 601, 601]
    expect(costOfTimeout(list, p, 600).cost).toBe(36)
    expect(clairvoyantCost(list, p)).toBe(18)
  })

  it('at best is what trying every time-out finds', () => {
    fc.assert(
      fc.property(gaps, prices, (list, p) => {
        const best = bestTimeout(list, p)
        const tried = [0, Infinity, ...list, ...list.map((g) => g * 0.999), ...list.map((g) => g * 1.001)].map(
          (t) => costOfTimeout(list, p, t).cost,
        )
        const least = Math.min(...tried)
        expect(best.cost).toBeLessThanOrEqual(least * (1 + 1e-9) + 1e-9)
        expect(costOfTimeout(list, p, best.timeoutSeconds).cost).toBeCloseTo(best.cost, 6)
        expect(best.cost).toBeGreaterThanOrEqual(clairvoyantCost(list, p) * (1 - 1e-9) - 1e-9)
      }),
      { numRuns: 400 },
    )
  })

  it('takes gaps from the end of the last that is served to the next call', () => {
    expect(gapsBetween([0, 1, 10, 30], 4)).toEqual([5, 16])
    expect(gapsBetween([5], 1)).toEqual([])
    expect(gapsBetween([], 1)).toEqual([])
  })
})
