import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { batchProfile, sharedProfile, tokenProfile } from '../../test/makeProfiles.ts'
import { givenProfile, specOf } from '../service/given.ts'
import { readCoefficient, showCoefficient } from './coefficients.ts'

const limits = {
  sequences: 8,
  cacheTokens: 20_000,
  contextTokens: 20_000,
  windowSeconds: 0,
  batching: { prompts: 'whole', maxPrefillTokens: 8192, stepTokens: 2048, reservation: 'whole' },
} as const

describe('coefficients that are typed in', () => {
  it.each([
    ['46 ms', 0.046],
    ['0.3 ms + 50 µs × n', { base: 3e-4, perSequence: 5e-5 }],
    ['50 µs × n', { base: 0, perSequence: 5e-5 }],
    ['1 ms, 2 ms, 4 ms', [1e-3, 2e-3, 4e-3]],
    ['0.012', 0.012],
    ['2e-10 s', 2e-10],
  ])('"%s"', (text, expected) => expect(readCoefficient(text, 'per-sequences')).toEqual({ value: expected }))

  it.each(['soon', '1 ms + soon × n', '-1', '1 ms, two'])('"%s" is refused', (text) =>
    expect(readCoefficient(text, 'per-sequences')).toHaveProperty('complaint'),
  )

  it('read back what they show', () => {
    const seconds = fc.double({ min: 1e-12, max: 50, noNaN: true }).map((v) => Number(v.toPrecision(5)))
    fc.assert(
      fc.property(
        fc.oneof(seconds, fc.record({ base: seconds, perSequence: seconds }), fc.array(seconds, { minLength: 2, maxLength: 5 })),
        (value) => {
          const reading = readCoefficient(showCoefficient(value, 'per-sequences'), 'per-sequences')
          const numbers = (v: unknown): number[] =>
            typeof v === 'number' ? [v] : Array.isArray(v) ? (v as number[]) : (Object.values(v as object) as number[]) // of the three forms above
          const back = 'value' in reading ? numbers(reading.value) : []
          expect(back).toHaveLength(numbers(value).length)
          numbers(value).forEach((v, i) => expect(Math.abs(back[i] - v)).toBeLessThanOrEqual(1e-5 * v))
        },
      ),
      { numRuns: 300, seed: 2 },
    )
  })

  it('what a profile relies on, typed in, gives the same profile', () => {
    const token = tokenProfile({ memorySeconds: Float64Array.of(9, 1, 3, 4, 5, 6, 7, 8, 9) })
    for (const profile of [tokenProfile(), token, sharedProfile()])
      expect(specOf(givenProfile(specOf(profile), limits))).toEqual(specOf(profile))
    const back = givenProfile(specOf(token), limits)
    expect(back.kind === 'token' && [...back.memorySeconds.subarray(1)]).toEqual([1, 3, 4, 5, 6, 7, 8, 9])
    const batch = givenProfile(specOf(batchProfile({ maxBatch: 8 })), limits)
    expect(batch.kind === 'batch' && [batch.baseSeconds[3], batch.secondsPerWorkUnit[3]]).toEqual([0.05, expect.closeTo(0.03, 12)])
  })
})
