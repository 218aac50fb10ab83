import { describe, expect, it } from 'vitest'
import { RandomStream } from '../random/stream.ts'
import { percentileInterval, valuesNeeded } from './orderStatistics.ts'

const upTo = (n: number) => Array.from({ length: n }, (_, i) => i + 1)

describe('the interval of a percentile by order statistics', () => {
  it.each([
    // Ranks as tables of the binomial distribution have them.
    [6, 0.5, { value: 3, low: 1, high: 6 }],
    [5, 0.5, { value: 3 }],
    [100, 0.5, { value: 50, low: 40, high: 61 }],
    [100, 0.95, { value: 95, low: 90, high: 100 }],
    [72, 0.95, { value: 69, low: 64, high: 72 }],
    [71, 0.95, { value: 68, low: 63 }],
    [1, 0.99, { value: 1, low: 1 }],
  ])('of 1 … %d at %d is %j', (n, share, interval) => {
    expect(percentileInterval(upTo(n), share)).toEqual(interval)
  })

  it('is none of nothing', () => expect(percentileInterval([], 0.5)).toBeUndefined())

  it.each([0.5, 0.9, 0.95, 0.99])('has both ends from so many values on as are told, at %d', (share) => {
    const n = valuesNeeded(share)
    expect(percentileInterval(upTo(n), share)?.high).toBe(n)
    expect(percentileInterval(upTo(n - 1), share)?.high).toBeUndefined()
  })

  it.each([
    [40, 0.5],
    [200, 0.95],
    [700, 0.99],
  ])('of %d values holds the percentile %d in at least 95 of 100, and hardly more', (n, share) => {
    const random = new RandomStream(3, 'order statistics', `${n}`)
    let inside = 0
    const STUDIES = 4000
    for (let s = 0; s < STUDIES; s++) {
      const { low, high } = percentileInterval(Float64Array.from({ length: n }, () => random.next()).sort(), share)!
      if (low! <= share && share < high!) inside++
    }
    // Three standard deviations of such a count are 1 %.
    expect(inside / STUDIES).toBeGreaterThan(0.94)
    expect(inside / STUDIES).toBeLessThan(0.985)
  })
})
