import { describe, expect, it } from 'vitest'
import { batchProfile, classRules, rules, sharedProfile, tokenProfile } from '../../test/makeProfiles.ts'
import { makeRequests } from '../../test/makeRequests.ts'
import { countOutcomes } from '../measure/counts.ts'
import { givenProfile, table } from '../service/given.ts'
import { OUTCOME_NAMES, RejectCause } from './outcome.ts'
import type { RunRecord } from './record.ts'
import { simulate } from './simulate.ts'

/** Prefill 1 s whatever the prompt, decode 0.1 s a step: cases that can be worked out by hand. */
const plain = (parts = {}) =>
  tokenProfile({
    maxSequences: 2,
    cacheTokens: 100,
    requestTokens: 100,
    memorySeconds: table(0.1, 2),
    arithmeticSeconds: table(0, 2),
    overheadSeconds: table(0, 2),
    cacheSecondsPerToken: 0,
    prefillBaseSeconds: 1,
    prefillMemorySeconds: 0,
    prefillSecondsPerToken: 0,
    prefillSecondsPerTokenSquared: 0,
    ...parts,
  })
const times = (r: RunRecord, i: number) => [r.start[i], r.firstToken[i], r.end[i]].map((t) => Math.round(t * 1e6) / 1e6)
const run = (rows: Parameters<typeof makeRequests>[0], parts: Parameters<typeof rules>[1], replicas = 1) =>
  simulate(makeRequests(rows), rules(replicas, parts))
const outcomes = (r: RunRecord) => [...r.outcome].map((o) => OUTCOME_NAMES[o])

describe('token service, worked by hand', () => {
  it('a request alone: prefill, then a step for each further token', () => {
    expect(times(run([[0, 10, 4]], { profile: plain() }), 0)).toEqual([0, 1, 1.3])
    expect(times(run([[0, 10, 1]], { profile: plain() }), 0)).toEqual([0, 1, 1])
  })

  it('one that arrives while another decodes is admitted at the next boundary, and decoding waits for its prompt', () => {
    const r = run(
      [
        [0, 10, 4],
        [1.15, 10, 2],
      ],
      { profile: plain() },
    )
    expect(times(r, 1)).toEqual([1.2, 2.2, 2.3])
    expect(times(r, 0)).toEqual([0, 1, 2.3])
  })

  it('prompts admitted together share one prefill step, up to the limit of its tokens', () => {
    expect(
      times(
        run(
          [
            [0, 10, 1],
            [0, 10, 1],
          ],
          { profile: plain() },
        ),
        1,
      ),
    ).toEqual([0, 1, 1])
    expect(
      times(
        run(
          [
            [0, 10, 1],
            [0, 10, 1],
          ],
          { profile: plain({ maxPrefillTokens: 19 }) },
        ),
        1,
      ),
    ).toEqual([1, 2, 2])
    expect(times(run([[0, 50, 1]], { profile: plain({ maxPrefillTokens: 19 }) }), 0)).toEqual([0, 1, 1])
  })

  it('a full cache keeps the next one waiting until a reservation is released', () => {
    const r = run(
      [
        [0, 60, 3],
        [0, 60, 2],
      ],
      { profile: plain() },
    )
    expect(times(r, 1)).toEqual([1.2, 2.2, 2.3])
  })

  it('what no replica can ever hold is rejected on arrival', () => {
    const r = run(
      [
        [0, 99, 2],
        [0, 98, 2],
      ],
      { profile: plain() },
    )
    expect(outcomes(r)).toEqual(['rejected', 'finished'])
    expect(r.rejectCause[0]).toBe(RejectCause.tooLarge)
  })
})

describe('routing, queue limits and patience', () => {
  it('least-busy goes to the fewest, ties to the lowest number', () => {
    const r = run(
      [
        [0, 1, 9],
        [0, 1, 9],
        [0, 1, 9],
        [0.5, 1, 9],
      ],
      { profile: plain() },
      3,
    )
    expect([...r.replica]).toEqual([0, 1, 2, 0])
  })

  it('a shared queue holds back what has no room, and gives it to whoever is free first', () => {
    const profile = plain({ maxSequences: 1 })
    const r = run(
      [
        [0, 1, 21],
        [0, 1, 11],
        [0.1, 1, 1],
        [0.2, 1, 1],
      ],
      { profile, routing: 'shared-queue' },
      2,
    )
    expect([...r.replica]).toEqual([0, 1, 1, 0])
    expect(r.start[2]).toBeCloseTo(2, 9)
    expect(r.start[3]).toBeCloseTo(3, 9)
  })

  it('a queue limit refuses those who would have to wait, not those who begin at once', () => {
    const profile = plain({ maxSequences: 1 })
    expect(
      outcomes(
        run(
          [
            [0, 1, 1],
            [0, 1, 1],
            [0, 1, 1],
          ],
          { profile, queueLimit: 1 },
        ),
      ),
    ).toEqual(['finished', 'finished', 'rejected'])
    expect(
      outcomes(
        run(
          [
            [0, 1, 1],
            [0, 1, 1],
            [0, 1, 1],
          ],
          { profile, queueLimit: 0 },
          2,
        ),
      ),
    ).toEqual(['finished', 'finished', 'rejected'])
  })

  it('patience counts waiting only, and one that could be started at the very instant is', () => {
    const profile = plain({ maxSequences: 1 })
    const r = run([[0, 1, 1], [0.4, 1, 1], [0, 1, 1].map((v, i) => (i === 0 ? 0.5 : v)) as [number, number, number]], {
      profile,
      patienceSeconds: [0.6, Infinity],
    })
    expect(outcomes(r)).toEqual(['finished', 'finished', 'abandoned'])
    expect(r.end[2]).toBeCloseTo(1.1, 9)
    expect(r.start[1]).toBeCloseTo(1, 9)
  })

  it('before any replica is ready requests wait, and are then routed in order over all that became ready', () => {
    const r = run(
      [
        [0, 1, 5],
        [1, 1, 5],
        [2, 1, 5],
      ],
      { profile: plain(), readyAtSeconds: Float64Array.of(3, 3) },
      2,
    )
    expect([...r.replica]).toEqual([0, 1, 0])
    expect([...r.start]).toEqual([3, 3, 3])
  })

  it('what is still there at the horizon is unfinished', () => {
    const r = run(
      [
        [0, 1, 5],
        [0, 1, 50],
      ],
      { profile: plain(), horizonSeconds: 2 },
    )
    expect(outcomes(r)).toEqual(['finished', 'unfinished'])
    expect(r.end[1]).toBeNaN()
  })
})

describe('window batching, worked by hand', () => {
  const profile = batchProfile({ maxBatch: 2, baseSeconds: 1, secondsPerWorkUnit: 0.1, windowSeconds: 0.5 })

  it('starts when full, or when the oldest has waited the window; a batch costs its largest member', () => {
    const r = run(
      [
        [0, 10, 0],
        [0.2, 5, 0],
        [10, 10, 0],
      ],
      { profile },
    )
    expect(times(r, 0)).toEqual([0.2, 3.2, 3.2])
    expect(times(r, 1)).toEqual([0.2, 3.2, 3.2])
    expect(times(r, 2)).toEqual([10.5, 12.5, 12.5])
  })

  it('with a window of zero takes what waits, up to the limit', () => {
    const r = run(
      [
        [0, 10, 0],
        [0.1, 10, 0],
        [0.2, 10, 0],
        [0.3, 10, 0],
      ],
      { profile: { ...profile, windowSeconds: 0 } },
    )
    expect([...r.start].map((t) => Math.round(t * 10) / 10)).toEqual([0, 2, 2, 5])
  })
})

describe('interleaved prompts, worked by hand', () => {
  // A step costs 0.1 s and 0.01 s for each prompt token beyond what that hides: max(0.1, 0.01·chunk).
  const mixed = (parts = {}) => plain({ prompts: 'interleaved', stepTokens: 11, prefillSecondsPerToken: 0.01, ...parts })

  it('a prompt goes in chunks, what is left of the budget to the next, and decoding goes on beside it', () => {
    const r = run(
      [
        [0, 25, 3],
        [0, 5, 2],
      ],
      { profile: mixed() },
    )
    // Steps take 11, 11, then 3 + 5: the first ends its prompt with the third step, the second as well.
    expect(times(r, 0)).toEqual([0, 0.32, 0.52])
    expect(times(r, 1)).toEqual([0.22, 0.32, 0.42])
  })

  it('decoding sequences take their part of the budget first', () => {
    const r = run(
      [
        [0, 1, 5],
        [0.15, 20, 1],
      ],
      { profile: mixed() },
    )
    // Decoding since 0.1 s; the second is admitted at 0.2 s and gets 10 tokens a step.
    expect(times(r, 1)).toEqual([0.2, 0.4, 0.4])
    expect(times(r, 0)).toEqual([0, 0.1, 0.5])
  })

  it('the squares of its chunks add up to that of the prompt', () => {
    const r = run([[0, 30, 1]], { profile: mixed({ prefillSecondsPerTokenSquared: 0.001 }) })
    expect(r.end[0]).toBeCloseTo(0.11 + 0.11 + 0.1 + 0.9, 9)
  })
})

describe('cache that fills as tokens come, worked by hand', () => {
  it('evicts the last admitted when there is no room for a step; it computes its tokens anew', () => {
    const profile = plain({ cacheTokens: 30, requestTokens: 30, reservation: 'optimistic' })
    const r = run(
      [
        [0, 8, 12],
        [0, 9, 6],
      ],
      { profile },
    )
    // 8 + 1 and 9 + 1 tokens after the prefill; five steps of 2 fill 29 of 30, but the second is done with them.
    expect(r.evictions).toBe(0)
    const tight = run(
      [
        [0, 8, 12],
        [0, 9, 6],
      ],
      { profile: { ...profile, cacheTokens: 25 } },
    )
    // 19 tokens at 1.0 s, three steps of 2 make 25, then the second must go with 4 of its 6 tokens. The first is done at
    // 2.1 s; then the second computes 9 + 4 tokens in 1 s, which gives its 5th, and one step gives the last.
    expect(tight.evictions).toBe(1)
    expect(times(tight, 0)).toEqual([0, 1, 2.1])
    expect(times(tight, 1)).toEqual([0, 1, 3.2])
  })

  it('a shared prefix saves its part of the prompt, drafts save steps', () => {
    const profile = plain({ prefillBaseSeconds: 0, prefillSecondsPerToken: 0.1, tokensPerStep: 2 })
    const r = run([[0, 10, 6]], { profile, classes: [classRules({ cachedShare: 0.6 })] })
    expect(times(r, 0)).toEqual([0, 0.4, 0.7])
  })
})

describe('classes, worked by hand', () => {
  const profile = plain({ maxSequences: 1 })

  it('higher priority is admitted first, nobody is interrupted', () => {
    const r = run(
      [
        [0, 1, 1, 0],
        [0.1, 1, 1, 0],
        [0.2, 1, 1, 1],
      ],
      { profile, classes: [classRules(), classRules({ priority: 5 })] },
    )
    expect([...r.start].map((t) => Math.round(t * 1e6) / 1e6)).toEqual([0, 2, 1])
  })

  it('who is refused comes again after a pause that grows, and is lost after the last attempt', () => {
    const classes = [classRules({ retries: { most: 2, firstPauseSeconds: 0.3, growth: 2, jitter: 0 } })]
    const r = run(
      [
        [0, 1, 1],
        [0.05, 1, 1],
        [0.05, 1, 1],
      ],
      { profile, classes, queueLimit: 0 },
    )
    // Refused at 0.05 and 0.35, again at 0.95; the first is done at 1 s.
    expect(outcomes(r)).toEqual(['finished', 'rejected', 'rejected'])
    expect(r.end[1]).toBeCloseTo(0.95, 9)
    expect([...(r.retries ?? [])]).toEqual([0, 2, 2])
    expect(r.lostAttempts[RejectCause.queueFull]).toBe(6)
    const patient = run(
      [
        [0, 1, 1],
        [0.05, 1, 1],
      ],
      { profile, classes: [classRules({ retries: { most: 2, firstPauseSeconds: 0.35, growth: 2, jitter: 0 } })], queueLimit: 0 },
    )
    expect(outcomes(patient)).toEqual(['finished', 'finished'])
    expect(patient.start[1]).toBeCloseTo(1.1, 9)
  })

  it('a rate limit refuses what the bucket can not pay, under its own cause', () => {
    const r = run(
      [
        [0, 1, 1],
        [0.1, 1, 1],
        [1.2, 1, 1],
      ],
      { profile, classes: [classRules({ rateLimit: { unit: 'requests', perSecond: 1, burst: 1 } })] },
    )
    expect(outcomes(r)).toEqual(['finished', 'rejected', 'finished'])
    expect([...r.rejectCause]).toEqual([0, RejectCause.rateLimited, 0])
  })

  it('a client of a closed loop sends its next request when the last is answered and thought over', () => {
    const requests = {
      ...makeRequests([
        [0, 1, 1],
        [0, 1, 1],
        [0.5, 1, 1],
      ]),
      chain: { next: Int32Array.of(2, -1, -1), pause: Float64Array.of(NaN, NaN, 0.5) },
    }
    const r = simulate(requests, rules(1, { profile }))
    expect([...r.at]).toEqual([0, 0, 1.5])
    expect([...r.start].map((t) => Math.round(t * 1e6) / 1e6)).toEqual([0, 1, 2])
    const cut = simulate(requests, rules(1, { profile, horizonSeconds: 1.2 }))
    expect(cut.at[2]).toBeNaN()
    expect(countOutcomes(cut, { classIndex: -1, fromSeconds: 0, untilSeconds: Infinity }).arrivals).toBe(2)
  })
})

describe('fixed work of several items, and side by side', () => {
  it('a request of several items is spread over batches and done with its last', () => {
    const profile = batchProfile({ maxBatch: 2, baseSeconds: 1, secondsPerWorkUnit: 0 })
    const r = run(
      [
        [0, 1, 3],
        [0, 1, 1],
        [0, 1, 1],
      ],
      { profile },
    )
    expect([...r.start]).toEqual([0, 1, 2])
    expect([...r.end]).toEqual([2, 2, 3])
  })

  it('iterative models go through their steps, by the size of the batch', () => {
    const made = givenProfile(
      { kind: 'iterative', fixedSeconds: 0.5, stepSeconds: [0.1, 0.15] },
      {
        sequences: 2,
        windowSeconds: 0,
        contextTokens: 1,
        cacheTokens: 1,
        batching: { prompts: 'whole', maxPrefillTokens: 1, stepTokens: 1, reservation: 'whole' },
      },
    )
    const r = run(
      [
        [0, 20, 1],
        [0, 30, 1],
      ],
      { profile: made },
    )
    expect(r.end[0]).toBeCloseTo(0.5 + 30 * 0.15, 9)
    expect(run([[0, 20, 1]], { profile: made }).end[0]).toBeCloseTo(2.5, 9)
  })

  it('two side by side slow each other while both are there', () => {
    const r = run(
      [
        [0, 10, 1],
        [1, 10, 1],
        [1, 10, 1],
      ],
      { profile: sharedProfile({ baseSeconds: 0, secondsPerWorkUnit: 0.2, slowdown: 0.5, slots: 2 }) },
    )
    // The first has 1 s left when the second joins: 1.5 s at two thirds of its speed. The third then takes its slot.
    expect(r.end[0]).toBeCloseTo(2.5, 9)
    expect(r.start[2]).toBeCloseTo(2.5, 9)
    expect(r.end[1]).toBeCloseTo(4, 9)
    expect(r.end[2]).toBeCloseTo(5, 9)
  })
})

describe('edges', () => {
  it('no requests, one request, a million in one second', () => {
    expect(outcomes(run([], { profile: plain() }))).toEqual([])
    expect(outcomes(run([[5, 1, 1]], { profile: plain() }))).toEqual(['finished'])
    const many = makeRequests(Array.from({ length: 1_000_000 }, (_, i) => [i * 1e-6, 10, 2] as const))
    const r = simulate(many, rules(8, { profile: plain(), patienceSeconds: [5], horizonSeconds: 60 }))
    const lost = r.outcome.reduce((n, o) => n + (o === 3 ? 1 : 0), 0)
    expect(lost).toBeGreaterThan(999_000)
    expect(r.outcome.reduce((n, o) => n + (o === 1 ? 1 : 0), 0)).toBeGreaterThan(50)
  })

  it('never ready: everything is unfinished or out of patience', () => {
    const r = run(
      [
        [0, 1, 1, 0],
        [0, 1, 1, 1],
      ],
      { profile: plain(), readyAtSeconds: Float64Array.of(Infinity), patienceSeconds: [3, Infinity], horizonSeconds: 10 },
    )
    expect(outcomes(r)).toEqual(['abandoned', 'unfinished'])
  })
})
