import * as fc from 'fast-check'
import { expect, it } from 'vitest'
import type { Plan } from '../plan/schema.ts'
import { busiestTogether } from './busiestTogether.ts'

/** Only what is asked of a plan. */
const planOf = (arrivals: object[], seconds: number) =>
  ({ classes: arrivals.map((a) => ({ arrivals: a })), horizon: { seconds, start: '2027-03-01T00:00:00Z' } }) as unknown as Plan
const hourly = (ratesPerSecond: number[]) => ({ kind: 'hourly', ratesPerSecond })

it('is the largest sum over the hours, not the sum of the largest', () => {
  const rates = fc.array(fc.integer({ min: 0, max: 1000 }), { minLength: 5, maxLength: 5 })
  fc.assert(
    fc.property(fc.array(rates, { minLength: 1, maxLength: 4 }), (classes) => {
      const sums = Array.from({ length: 5 }, (_, hour) => classes.reduce((sum, c) => sum + c[hour], 0))
      expect(busiestTogether(planOf(classes.map(hourly), 5 * 3600))).toBe(Math.max(...sums))
    }),
  )
  expect(busiestTogether(planOf([hourly([1, 9]), hourly([8, 2])], 7200))).toBe(11)
})

it('is unknown where a class states no rate', () => {
  expect(busiestTogether(planOf([hourly([1]), { kind: 'log' }], 3600))).toBeUndefined()
})

it('is that of the last hour of a year of growth', () => {
  const growing = { kind: 'steady', ratePerSecond: 1, growthPerMonth: 0.05 }
  const most = busiestTogether(planOf([growing, growing, growing, growing], 8760 * 3600)) ?? 0
  // The last hour stands for the middle of it.
  expect(most).toBeCloseTo(4 * 1.05 ** ((8760 - 0.5) / 730), 9)
})
