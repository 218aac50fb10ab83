import { describe, expect, it } from 'vitest'
import { skerrySound } from '../../../examples/make/skerrySound.ts'
import type { ClosedLoop, RequestClass } from '../plan/schema.ts'
import { classRemarks, closedLoopWords } from './classWords.ts'

const plain = (text: string) => text.replaceAll(/[\u00a0\u202f]/g, ' ')
const [pilots] = skerrySound.classes
const remarks = (parts: Partial<RequestClass>) => classRemarks({ ...pilots, ...parts }).map(plain)
const steady = { kind: 'steady' as const, ratePerSecond: 2 }

describe('what a plan says of a class beside its figures', () => {
  it('is nothing for a plain class', () => expect(remarks({})).toEqual([]))

  it.each<[Partial<RequestClass>, string]>([
    [{ arrivals: { ...steady, growthPerMonth: -0.05 } }, 'The rate shrinks by 5.00 % a month.'],
    [{ arrivals: { ...steady, bursts: { kind: 'gamma', variation: 2 } } }, 'Gaps vary 2.00 times as much as by pure chance.'],
    [
      { arrivals: { ...steady, bursts: { kind: 'two-state', factor: 4, burstSeconds: 30, quietSeconds: 600 } } },
      'It comes in bursts of 30.0 s on average at 4.00 times the rate, with 10 min between them.',
    ],
    [
      { turns: { count: { kind: 'fixed', value: 3 }, pauseSeconds: 20, historyTokens: 6000 } },
      'Requests come in conversations, the next 20.0 s after an answer; prompts carry up to 6 000 tokens of what was said before.',
    ],
    [{ priority: -1 }, 'Its priority is -1: those of priority 0 go before it.'],
    [{ retries: { most: 3, firstPauseSeconds: 1 } }, 'Who is refused or gives up tries again up to 3 times, first after 1.00 s.'],
    [{ rateLimit: { unit: 'tokens', perSecond: 500, burst: 2000 } }, 'At most 500 tokens a second are let in, 2 000 at once.'],
    [{ items: { kind: 'fixed', value: 4 } }, 'Each request has 4 items.'],
    [{ lengthCorrelation: -0.5 }, 'Long prompts have short answers (correlation −0.500).'],
  ])('%j', (parts, sentence) => expect(remarks(parts)).toEqual([sentence]))

  it('a closed loop follows the name of its class', () => {
    const loop: ClosedLoop = {
      kind: 'closed-loop',
      clients: 40,
      requestsPerClient: 25,
      thinkSeconds: 2,
      thinking: 'exponential',
      rampSeconds: 60,
    }
    expect(plain(closedLoopWords(loop))).toBe(
      'comes from 40 clients, joining over 60.0 s, each sending 25 requests one after the other, with 2.00 s of thought between them on average',
    )
  })
})
