import { expect, it } from 'vitest'
import { skerrySound } from '../../../examples/make/skerrySound.ts'
import { modelOfSize, sizeFrom } from '../begin/sizedModel.ts'
import { SHAPES } from '../begin/shapes.ts'
import { checkPlan } from '../plan/read.ts'
import { oneOfSize } from './oneOfSize.ts'

const { machines, currency } = checkPlan(skerrySound)
const asked = { machine: 'Fenland twin', finds: 'warm', input: 600, output: 200, others: 0 } as const

it('of a size that has a shape is that shape', () => {
  expect({ ...modelOfSize(14), name: '' }).toEqual({ ...SHAPES['14b'].model, name: '' })
  const near = modelOfSize(20)
  expect([near.layers, near.width, near.parameters]).toEqual([40, 5120, 20e9])
  expect(near.variants[2].diskBytes).toBe(Math.round(20e9 * 0.5 * 1.03))
})

it('is laid out on the machine that was said, in the most bits that fit there', () => {
  const small = oneOfSize(machines, currency, { ...asked, billions: 8 })
  expect([small.asked.machine, small.asked.variant, small.asked.devices]).toEqual(['Fenland twin', '16-bit', 1])
  const large = oneOfSize(machines, currency, { ...asked, billions: 60 })
  expect(large.asked.variant).not.toBe('16-bit')
  // By hand: a step reads all weights once, at the share of the bandwidth that a plan assumes.
  const { bandwidthBytesPerSecond } = machines.find((m) => m.name === 'Fenland twin')!
  const reading = 16e9 / (bandwidthBytesPerSecond * 0.8)
  expect(small.tpotSeconds! / reading).toBeGreaterThan(0.8)
  expect(small.tpotSeconds! / reading).toBeLessThan(2)
  expect(() => oneOfSize(machines, currency, { ...asked, billions: 1000 })).toThrow(
    /Fenland twin": it has no room for A 1000B model, over any number/,
  )
})

it.each([
  ['13b', 13],
  ['0.5B', 0.5],
  ['14', undefined],
  ['0.01b', undefined],
  ['b', undefined],
])('“%s” as a size', (text, size) => expect(sizeFrom(text)).toBe(size))
