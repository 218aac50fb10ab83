import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import type { Setting } from '../candidate/settings.ts'
import { purchase } from '../cost/purchase.ts'
import { settingWords } from '../explain/waysWords.ts'
import { PROMPTS, RESERVATIONS, ROUTINGS, SPLITS, waysOf, WEIGHTS_FROM } from '../plan/ways.ts'
import { carriedOver, purchaseOfWords, settingOfWords } from './formerAnswer.ts'

const setting = fc
  .record(
    {
      split: fc.constantFrom(...waysOf(SPLITS)),
      routing: fc.constantFrom(...waysOf(ROUTINGS)),
      weightsFrom: fc.constantFrom(...waysOf(WEIGHTS_FROM)),
      prompts: fc.constantFrom(...waysOf(PROMPTS)),
      stepTokens: fc.integer({ min: 1, max: 1e6 }),
      maxPrefillTokens: fc.integer({ min: 1, max: 1e6 }),
      reservation: fc.constantFrom(...waysOf(RESERVATIONS)),
      windowSeconds: fc.double({ min: 0, max: 100, noNaN: true }),
    },
    { requiredKeys: [] },
  )
  .filter((s) => Object.keys(s).length > 0)

describe('what the first version of the answer named by words', () => {
  it('is read: every part of a setting, alone and together', () => {
    const parts: [words: string, setting: Setting][] = [
      ['split by heads', { split: 'heads' }],
      ['split by layers', { split: 'layers' }],
      ['least-busy routing', { routing: 'least-busy' }],
      ['round-robin routing', { routing: 'round-robin' }],
      ['two-choice routing', { routing: 'two-choice' }],
      ['shared-queue routing', { routing: 'shared-queue' }],
      ['weights from the store', { weightsFrom: 'store' }],
      ['weights in the image', { weightsFrom: 'image' }],
      ['weights kept on the machine', { weightsFrom: 'node' }],
      ['whole prompts', { prompts: 'whole' }],
      ['prompts in chunks', { prompts: 'interleaved' }],
      ['512 tokens a step', { stepTokens: 512 }],
      ['8192 prompt tokens a step', { maxPrefillTokens: 8192 }],
      ['room kept from the start', { reservation: 'whole' }],
      ['room as tokens come', { reservation: 'optimistic' }],
      ['batches that do not wait', { windowSeconds: 0 }],
      ['batches that wait 0.05 s', { windowSeconds: 0.05 }],
    ]
    for (const [words, one] of parts) expect(settingOfWords(words)).toEqual(one)
    expect(settingOfWords('split by layers, two-choice routing, weights in the image, prompts in chunks, 512 tokens a step')).toEqual({
      split: 'layers',
      routing: 'two-choice',
      weightsFrom: 'image',
      prompts: 'interleaved',
      stepTokens: 512,
    })
  })

  // The words of today are those of version 1 still. Once they are others, this goes: what has to hold is above.
  it('is read back: every setting', () => {
    fc.assert(
      fc.property(setting, (s) => void expect(settingOfWords(settingWords(s))).toEqual(s)),
      { seed: 4, numRuns: 300 },
    )
  })

  it('says how machines are paid', () => {
    for (const [words, kind] of [
      ['on demand', 'on-demand'],
      ['committed', 'committed'],
      ['spot', 'spot'],
      ['per request', 'per-request'],
    ] as const)
      expect(purchaseOfWords(words)).toEqual(purchase(kind))
    for (const share of [5, 25, 50, 75, 90]) expect(purchaseOfWords(`spot but for ${share}\u00a0%`)).toEqual(purchase('mixed', share / 100))
  })

  it('is carried over wherever an answer has it, but not in its plan; what is carried over already stays', () => {
    const plan = { services: [{ configuration: { purchase: 'spot' } }] }
    const old = {
      format: 'sand-clock-answer',
      version: 1,
      plan,
      services: [
        {
          chosen: { purchase: 'spot but for 50\u00a0%', setting: null },
          rejected: [
            {
              purchase: 'on demand',
              setting: 'two-choice routing, 512 tokens a step',
              rejection: { kind: 'same-option', setting: null, bestSetting: 'batches that wait 0.2 s' },
            },
            { purchase: 'spot', setting: null, rejection: { kind: 'not-sold', purchase: 'spot', sold: ['on demand', 'per request'] } },
          ],
        },
      ],
    }
    const now = carriedOver(old)
    expect(now).toEqual({
      format: 'sand-clock-answer',
      version: 2,
      plan,
      services: [
        {
          chosen: { purchase: { kind: 'mixed', safeShare: 0.5 }, setting: null },
          rejected: [
            {
              purchase: { kind: 'on-demand', safeShare: 1 },
              setting: { routing: 'two-choice', stepTokens: 512 },
              rejection: { kind: 'same-option', setting: null, bestSetting: { windowSeconds: 0.2 } },
            },
            {
              purchase: { kind: 'spot', safeShare: 0 },
              setting: null,
              rejection: { kind: 'not-sold', purchase: { kind: 'spot', safeShare: 0 }, sold: ['on-demand', 'per-request'] },
            },
          ],
        },
      ],
    })
    expect(carriedOver(now)).toBe(now)
    expect(carriedOver({ option: { purchase: { kind: 'spot', safeShare: 0 }, setting: { routing: 'two-choice' } } })).toEqual({
      option: { purchase: { kind: 'spot', safeShare: 0 }, setting: { routing: 'two-choice' } },
    })
    for (const words of [{ purchase: 'barter' }, { setting: 'upside down' }, { setting: '' }])
      expect(carriedOver({ services: [words] })).toBeUndefined()
  })
})
