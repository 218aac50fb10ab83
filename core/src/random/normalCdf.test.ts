import { describe, expect, it } from 'vitest'
import { normalCdf } from './normalCdf.ts'
import { normalQuantile } from './normalQuantile.ts'

describe('normalCdf', () => {
  it('undoes the quantile over the whole range', () => {
    for (let p = 0.0005; p < 1; p += 0.0005) expect(Math.abs(normalCdf(normalQuantile(p)) - p)).toBeLessThan(1e-13)
    expect(normalCdf(-8) / 6.220960574271785e-16).toBeCloseTo(1, 7)
    expect([normalCdf(0), normalCdf(-40), normalCdf(40)]).toEqual([0.5, 0, 1].map((v) => expect.closeTo(v, 14)))
  })
})
