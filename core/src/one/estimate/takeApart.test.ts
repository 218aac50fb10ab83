import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { estimateWords } from './estimateWords.ts'
import { MAIN_SHARE, takeApart, TIMES, type Slip, type Term } from './takeApart.ts'

const MEMORY: Term[] = [
  { name: 'the weights', value: 28 },
  { name: 'the cache', value: 6.1 },
  { name: 'the scales', value: 0.4 },
  { name: 'the reserve', value: 1.6 },
]
const SLIPS: Slip[] = [
  { words: 'counts in GiB', factor: 1 / 1.073741824 },
  { words: 'takes bits for bytes', factor: 8 },
]
const said = (estimate: number, terms = MEMORY) => estimateWords(takeApart(estimate, terms, SLIPS), (v) => `${Number(v.toFixed(2))} GB`)

describe('an own estimate, taken apart', () => {
  it('names what was left out, halved, doubled or in other units', () => {
    expect(said(28)).toBe('28 GB leaves out the cache of 6.1 GB, the scales of 0.4 GB and the reserve of 1.6 GB: all of it is 36.1 GB')
    expect(said(36)).toBe('36 GB is right: all of it is 36.1 GB')
    expect(said(36.1 / 1.073741824)).toBe('33.62 GB counts in GiB: all of it is 36.1 GB')
    expect(said(8 * 28)).toContain('takes bits for bytes, and leaves out the cache of 6.1 GB')
    expect(said(64.1)).toBe('64.1 GB has the weights of 28 GB twice: all of it is 36.1 GB')
    expect(said(22.1)).toBe('22.1 GB has half of the weights of 28 GB: all of it is 36.1 GB')
    expect(said(5000)).toBe(
      '5000 GB comes of nothing that was thought of (terms left out, halved or doubled, other units): all of it is 36.1 GB',
    )
  })

  it('whatever single departure made it, a reading is found that adds up to it and keeps what is most of it', () => {
    const terms = fc.array(fc.double({ min: 0.5, max: 100, noNaN: true }), { minLength: 2, maxLength: 6 })
    fc.assert(
      fc.property(terms, fc.nat(), fc.constantFrom('none', 'half', 'twice', 'slip'), (values, pick, how) => {
        const list = values.map((value, i) => ({ name: `the part ${i}`, value }))
        const whole = values.reduce((a, b) => a + b, 0)
        const i = pick % values.length
        // What is most of all is never left out.
        fc.pre(how !== 'none' || values[i] <= MAIN_SHARE * whole)
        const estimate = how === 'slip' ? whole * SLIPS[0].factor : whole + (TIMES[how as keyof typeof TIMES] - 1) * values[i]
        const { reading } = takeApart(estimate, list, SLIPS)
        expect(reading).not.toBeNull()
        const { times = [], slip = null, value = 0 } = reading ?? {}
        const sum = list.reduce((all, t, k) => all + TIMES[times[k]] * t.value, 0) * (slip?.factor ?? 1)
        expect(value).toBeCloseTo(sum, 9)
        values.forEach((v, k) => v > MAIN_SHARE * whole && expect(times[k]).not.toBe('none'))
        expect(Math.abs(Math.log(value / estimate))).toBeLessThanOrEqual(0.02 + 1e-9)
      }),
    )
  })
})
