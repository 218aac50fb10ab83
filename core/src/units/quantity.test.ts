import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { allDigits, readQuantity, showQuantity, type QuantityKind } from './quantity.ts'

const value = (text: string, kind: QuantityKind) => {
  const reading = readQuantity(text, kind)
  return 'value' in reading ? reading.value : reading.complaint
}

describe('quantities as people type them', () => {
  it.each<[string, QuantityKind, number]>([
    ['48 GiB', 'bytes', 48 * 2 ** 30],
    ['48 GB', 'bytes', 48e9],
    ['1.5 TiB', 'bytes', 1.5 * 2 ** 40],
    ['512 MB', 'bytes', 512e6],
    ['48000000000', 'bytes', 48e9],
    ['0', 'bytes', 0],
    ['2 TB/s', 'byteRate', 2e12],
    ['25 GB/s', 'byteRate', 25e9],
    ['200 Gbit/s', 'byteRate', 25e9],
    ['200 Gb/s', 'byteRate', 25e9],
    ['10 Gbps', 'byteRate', 1.25e9],
    ['0,87 TB/s', 'byteRate', 0.87e12],
    ['180 T/s', 'operations', 180e12],
    ['180 TFLOP/s', 'operations', 180e12],
    ['1.7 PFLOPS', 'operations', 1.7e15],
    ['240e12', 'operations', 240e12],
    ['$1.30/h', 'hourly', 1.3],
    ['1.30 EUR/h', 'hourly', 1.3],
    ['€ 1.30', 'hourly', 1.3],
    ['1.30 per hour', 'hourly', 1.3],
    ['EUR 0.0004', 'money', 0.0004],
    ['90 s', 'duration', 90],
    ['8 µs', 'duration', 8e-6],
    ['4 min', 'duration', 240],
    ['70 %', 'percent', 0.7],
    ['14 B', 'big', 14e9],
    ['13.2e9', 'big', 13.2e9],
    ['350M', 'big', 350e6],
  ])('"%s" as %s is %d', (text, kind, expected) => expect(value(text, kind)).toBeCloseTo(expected, 9))

  it.each<[string, QuantityKind, RegExp]>([
    ['48 Gb', 'bytes', /Write GB for bytes; "Gb" means bits/],
    ['48 gb', 'bytes', /Write GB for bytes: "gb" could be either/],
    ['25 gb/s', 'byteRate', /Write GB for bytes, Gbit for bits: "gb" could be either/],
    ['48', 'bytes', /Say in which unit/],
    ['much', 'operations', /Type operations a second/],
    ['dear', 'hourly', /Type a price/],
    ['soon', 'duration', /Type a duration/],
    ['3 X', 'big', /Type a number such as 14e9/],
  ])('"%s" as %s is refused with what to type', (text, kind, complaint) => expect(value(text, kind)).toMatch(complaint))

  it.each<[number, QuantityKind, string]>([
    [28.1e9, 'bytes', '28.1 GB'],
    [0.862, 'percent', '86.2 %'],
    [14e9, 'big', '14 B'],
    [8e-6, 'duration', '8 µs'],
    [51539607552, 'bytes', '51.5396076 GB'],
    [4e-7, 'money', '0.0000004'],
    [4000.5, 'money', '4 000.5'],
    [3.2e12, 'byteRate', '3.2 TB/s'],
  ])('%d as %s is shown as %s', (figure, kind, words) => {
    expect(showQuantity(figure, kind).replaceAll(/[\u00a0\u202f]/g, ' ')).toBe(words)
  })

  it('reads back what it shows, whatever the figure', () => {
    const kinds = fc.constantFrom<QuantityKind>('bytes', 'byteRate', 'operations', 'hourly', 'duration', 'percent', 'number', 'big')
    fc.assert(
      fc.property(kinds, fc.double({ min: 0.001, max: 9e14, noNaN: true }), (kind, raw) => {
        const scale = kind === 'duration' || kind === 'percent' || kind === 'hourly' ? 1e-10 : kind === 'number' ? 1e-6 : 1
        const figure = Number((raw * scale).toPrecision(6))
        // Nothing real is smaller: less than a byte, a nanosecond, a millionth of a percent.
        if (figure < (kind === 'bytes' || kind === 'byteRate' ? 1 : kind === 'duration' ? 1e-9 : 1e-8)) return
        const back = value(showQuantity(figure, kind), kind)
        expect(typeof back === 'number' ? Math.abs(back - figure) <= 1e-8 * figure : back).toBe(true)
      }),
      { numRuns: 500, seed: 5 },
    )
  })
})

it('all digits are those that the engine would write, grouped', () => {
  const written = new Intl.NumberFormat('en', { maximumFractionDigits: 9 })
  fc.assert(
    fc.property(fc.integer({ min: -1e9, max: 1e9 }), fc.integer({ min: 0, max: 9 }), (digits, decimals) => {
      const value = Number(`${digits}e-${decimals}`)
      expect(allDigits(value)).toBe(written.format(value).replaceAll(',', '\u202f').replace('-', '−'))
    }),
  )
})
