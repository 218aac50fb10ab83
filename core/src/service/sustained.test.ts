import { describe, expect, it } from 'vitest'
import { rules, tokenProfile } from '../../test/makeProfiles.ts'
import { makeRequests } from '../../test/makeRequests.ts'
import { simulate } from '../engine/simulate.ts'
import { RandomStream } from '../random/stream.ts'
import type { TokenProfile } from './profile.ts'
import { sustainedRequestsPerSecond } from './sustained.ts'

/** Requests a second of a replica that always has more to do than it can take, between a fifth and four fifths of the work. */
function simulated(profile: TokenProfile, input: number, output: number): number {
  const random = new RandomStream(4, 'sustained')
  const spread = (mean: number) => Math.max(2, Math.round(mean * (0.6 + 0.8 * random.next())))
  const requests = makeRequests(Array.from({ length: 3000 }, () => [0, spread(input), spread(output)] as const))
  const record = simulate(requests, rules(1, { profile, horizonSeconds: 1e6 }))
  const ends = Float64Array.from(record.end).sort()
  return (2400 - 600) / (ends[2400] - ends[600])
}

describe('what a replica sustains', () => {
  const slow = { maxSequences: 32, cacheTokens: 1e6, prefillSecondsPerToken: 2e-4 }
  it.each<[string, TokenProfile, number, number]>([
    ['long prompts, short answers', tokenProfile(slow), 2000, 60],
    ['short prompts, long answers', tokenProfile(slow), 100, 400],
    ['in between', tokenProfile(slow), 700, 300],
    ['in chunks, beside decoding', tokenProfile({ ...slow, prompts: 'interleaved', stepTokens: 512 }), 700, 300],
    ['in chunks whose budget binds', tokenProfile({ ...slow, prompts: 'interleaved', stepTokens: 96 }), 1500, 100],
    ['with drafts', tokenProfile({ ...slow, tokensPerStep: 2, scheduledPerSequence: 4 }), 700, 300],
  ])('%s: as simulated, prompts included', (_, profile, input, output) => {
    const reckoned = sustainedRequestsPerSecond(profile, 32, { input, output })
    expect(Math.abs(reckoned / simulated(profile, input, output) - 1)).toBeLessThan(0.08)
  })
})
