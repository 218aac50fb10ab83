import { expect, it } from 'vitest'
import { coverage } from './coverage.ts'

it.each([50, 95, 99])('the interval of the percentile %d covers the true one in 93 to 97 of 100 studies of M/M/1', (p) => {
  const share = coverage(p / 100)
  expect(share).toBeGreaterThanOrEqual(0.93)
  expect(share).toBeLessThanOrEqual(0.97)
})

it('intervals of two thirds of that width would be found out', () => {
  expect(coverage(0.95, 2 / 3)).toBeLessThan(0.93)
})
