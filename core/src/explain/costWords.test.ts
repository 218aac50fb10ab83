import { describe, expect, it } from 'vitest'
import { skerrySound } from '../../../examples/make/skerrySound.ts'
import type { Plan } from '../plan/schema.ts'
import { costWords } from './costWords.ts'

const plain = (text: string) => text.replaceAll(/[\u202f\u00a0]/g, ' ')
const job = { kind: 'closed-loop' as const, clients: 4, requestsPerClient: 10, thinkSeconds: 0 }
const [pilots, readers] = skerrySound.classes
const withClasses = (classes: Plan['classes']): Plan => ({ ...skerrySound, horizon: { ...skerrySound.horizon, seconds: 7200 }, classes })

describe('what something costs', () => {
  it('is a month of a load that goes on', () => {
    expect(plain(costWords(skerrySound, 2))).toBe('1 460 EUR a month')
  })

  it('is once for a load that is over when its clients are done, with the month beside it', () => {
    const over = withClasses([{ ...pilots, arrivals: job }])
    expect(plain(costWords(over, 2))).toBe('4.00 EUR for these 2 h (1 460 EUR a month if it went on)')
  })

  it('is a month for all where one service goes on, and once for the other', () => {
    const both = withClasses([{ ...pilots, arrivals: job }, readers])
    expect(plain(costWords(both, 2))).toBe('1 460 EUR a month')
    expect(plain(costWords(both, 2, pilots.service))).toMatch(/^4\.00 EUR for these 2 h/)
    expect(plain(costWords(both, 2, readers.service))).toBe('1 460 EUR a month')
  })
})
