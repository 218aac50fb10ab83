import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { paceOf } from './pace.ts'

describe('the time left', () => {
  it('is not known before three options are settled', () => {
    let seconds = 0
    const left = paceOf(() => seconds)
    expect(left({ settled: 100, total: 200 })).toBeNull()
    seconds = 9
    expect(left({ settled: 102, total: 200 })).toBeNull()
    expect(left({ settled: 103, total: 200 })).toBe(291)
  })

  it('is right for a steady pace, whenever it is asked, and 0 at the end', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0.01, max: 100, noNaN: true }),
        fc.integer({ min: 4, max: 5000 }),
        fc.nat(5000),
        (each, total, begun) => {
          let seconds = 1000
          const left = paceOf(() => seconds)
          left({ settled: begun, total: begun + total })
          for (const done of [3, Math.ceil(total / 2), total]) {
            seconds = 1000 + done * each
            if (done >= 3) expect(left({ settled: begun + done, total: begun + total })).toBeCloseTo((total - done) * each, 6)
          }
        },
      ),
    )
  })
})
