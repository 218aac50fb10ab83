import fc from 'fast-check'
import { expect, it } from 'vitest'
import { pushedApart } from './plot.ts'

it('words at lines keep their order and their room, and stand where they want to where nothing is near', () => {
  fc.assert(
    fc.property(fc.array(fc.double({ min: 0, max: 500, noNaN: true }), { maxLength: 12 }), (wanted) => {
      const at = pushedApart(wanted, 16, 0)
      const order = wanted.map((_, i) => i).sort((a, b) => wanted[a] - wanted[b])
      order.forEach((i, k) => {
        expect(at[i]).toBeGreaterThanOrEqual(wanted[i])
        if (k > 0) expect(at[i] - at[order[k - 1]]).toBeGreaterThanOrEqual(16 - 1e-9)
        if (k > 0 && wanted[i] - at[order[k - 1]] >= 16) expect(at[i]).toBe(wanted[i])
      })
    }),
  )
  expect(pushedApart([], 16)).toEqual([])
})
