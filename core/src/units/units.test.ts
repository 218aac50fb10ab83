import { describe, expect, it } from 'vitest'
import { bytes } from './bytes.ts'
import { clock, duration } from './duration.ts'
import { bare, grouped, percent, threeDigits } from './number.ts'
import { parseFigure } from './parse.ts'
import { price } from './price.ts'

const plain = (text: string) => text.replaceAll(/[\u202f\u00a0]/g, ' ')

describe('figures for people', () => {
  it.each([
    [12345.6, '12 346'],
    [0.012345, '0.0123'],
    [999.6, '1 000'],
    [1, '1.00'],
    [0, '0'],
    [-1234, '−1 234'],
    [-1e-15, '0'],
    [-0, '0'],
    [-0.001234, '−0.00123'],
    [NaN, 'no data'],
    [undefined, 'no data'],
    [Infinity, '∞'],
  ])('%s is %s', (value, text) => expect(plain(threeDigits(value))).toBe(text))

  it.each([
    [0.0123, '12.3 ms'],
    [95, '95.0 s'],
    [240, '4 min'],
    [4020, '1 h 7 min'],
    [604_800, '7 d'],
    [1e-5, '10.0 µs'],
    [0, '0 s'],
    [Infinity, 'never'],
    [NaN, 'no data'],
  ])('%s seconds are %s', (value, text) => expect(plain(duration(value))).toBe(text))

  it.each([
    ['95.0 s', '95 s'],
    ['1.50 EUR', '1.5 EUR'],
    ['600 ms', '600 ms'],
    ['0.200 %', '0.2 %'],
    ['1.05', '1.05'],
    ['100', '100'],
  ])('%s in prose is %s', (figure, text) => {
    expect(bare(figure)).toBe(text)
  })

  it('bytes, money, shares and clock times carry their units', () => {
    expect(plain(bytes(28e9))).toBe('28.0 GB')
    expect(plain(bytes(163_840))).toBe('164 kB')
    expect(plain(price(1234.5, 'EUR'))).toBe('1 235 EUR')
    expect(plain(price(1.5, 'EUR'))).toBe('1.50 EUR')
    expect(plain(price(0.0123, 'EUR'))).toBe('0.0123 EUR')
    expect(plain(percent(0.0512))).toBe('5.12 %')
    expect(plain(grouped(1234567.891, 2))).toBe('1 234 567.89')
    expect(clock('2027-03-01T00:00:00Z', 32_520)).toBe('Mon 09:02')
  })
})

describe('figures as people type them', () => {
  it.each([
    ['600 ms', 'duration', 0.6],
    ['4 h 30 min', 'duration', 16_200],
    ['0,6', 'duration', 0.6],
    ['1.5s', 'duration', 1.5],
    ['soon', 'duration', NaN],
    ['3 parsecs', 'duration', NaN],
    ['12 %', 'percent', 0.12],
    ['12', 'percent', 0.12],
    ['1 200', 'count', 1200],
    ['1,200', 'count', 1200],
    ['1.5', 'count', NaN],
    ['9 /s', 'rate', 9],
    ['9 a second', 'rate', 9],
    ['× 3.5', 'factor', 3.5],
    ['', 'number', NaN],
  ] as const)('"%s" as %s is %d', (text, kind, value) => {
    if (Number.isNaN(value)) expect(parseFigure(text, kind)).toBeNaN()
    else expect(parseFigure(text, kind)).toBeCloseTo(value, 12)
  })

  it('reads back what is shown', () => {
    for (const seconds of [0.0123, 0.6, 95, 240, 4020, 604_800]) expect(parseFigure(duration(seconds), 'duration')).toBeCloseTo(seconds, 6)
  })
})
