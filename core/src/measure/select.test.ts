import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { kthSmallest } from './select.ts'

describe('the k-th smallest', () => {
  it('is what sorting finds, with ties and what never came', () => {
    fc.assert(
      fc.property(
        fc.array(fc.oneof(fc.integer({ min: 0, max: 5 }), fc.double({ min: 0, max: 1e3, noNaN: true }), fc.constant(Infinity)), {
          minLength: 1,
          maxLength: 300,
        }),
        fc.nat(),
        (list, k) => {
          const at = k % list.length
          expect(kthSmallest(Float64Array.from(list), list.length, at)).toBe(Float64Array.from(list).sort()[at])
        },
      ),
      { numRuns: 500, seed: 3 },
    )
  })
})
