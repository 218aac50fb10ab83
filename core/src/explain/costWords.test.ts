import { expect, it } from 'vitest'
import { skerrySound } from '../../../examples/make/skerrySound.ts'
import { spanWords } from './costWords.ts'

const lasting = (seconds: number) => ({ ...skerrySound, horizon: { ...skerrySound.horizon, seconds } })
const plain = (words: string) => words.replaceAll(/\s/g, ' ')

it('of an afternoon, of a week and of what goes on', () => {
  expect(plain(spanWords(lasting(4 * 3600), 2))).toBe('8.00 EUR for these 4 h')
  expect(plain(spanWords(lasting(7 * 86_400), 2))).toBe('336.00 EUR for these 7 d, 48.00 EUR a day')
  expect(spanWords(lasting(31 * 86_400), 2)).toBe('')
  const [first] = skerrySound.classes
  const job = {
    ...lasting(7200),
    classes: [{ ...first, arrivals: { kind: 'closed-loop' as const, clients: 2, requestsPerClient: 9, thinkSeconds: 0 } }],
  }
  expect(spanWords(job, 2)).toBe('')
})
