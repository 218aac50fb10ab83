import { describe, expect, it } from 'vitest'
import { batchProfile, rules, tokenProfile } from '../../test/makeProfiles.ts'
import { makeRequests } from '../../test/makeRequests.ts'
import { table } from '../service/given.ts'
import { OUTCOME_NAMES, RejectCause } from './outcome.ts'
import type { RunRecord } from './record.ts'
import { simulate } from './simulate.ts'

/** Prefill 1 s whatever the prompt, decode 0.1 s a step: cases that can be worked out by hand. */
const plain = (parts = {}) => tokenProfile({
  maxSequences: 2, cacheTokens: 100, requestTokens: 100, memorySeconds: table(0.1, 2), arithmeticSeconds: table(0, 2), overheadSeconds: table(0, 2), cacheSecondsPerToken: 0,
  prefillBaseSeconds: 1, prefillMemorySeconds: 0, prefillSecondsPerToken: 0, prefillSecondsPerTokenSquared: 0, ...parts,
})
const times = (r: RunRecord, i: number) => [r.start[i], r.firstToken[i], r.end[i]].map((t) => Math.round(t * 1e6) / 1e6)
const run = (rows: Parameters<typeof makeRequests>[0], parts: Parameters<typeof rules>[1], replicas = 1) => simulate(makeRequests(rows), rules(replicas, parts))
const outcomes = (r: RunRecord) => [...r.outcome].map((o) => OUTCOME_NAMES[o])

describe('token service, worked by hand', () => {
  it('a request alone: prefill, then a step for each further token', () => {
    expect(times(run([[0, 10, 4]], { profile: plain() }), 0)).toEqual([0, 1, 1.3])
    expect(times(run([[0, 10, 1]], { profile: plain() }), 0)).toEqual([0, 1, 1])
  })

  it('one that arrives while another decodes is admitted at the next boundary, and decoding waits for its prompt', () => {
    const r = run([[0, 10, 4], [1.15, 10, 2]], { profile: plain() })
    expect(times(r, 1)).toEqual([1.2, 2.2, 2.3])
    expect(times(r, 0)).toEqual([0, 1, 2.3])
  })

  it('prompts admitted together share one prefill step, up to the limit of its tokens', () => {
    expect(times(run([[0, 10, 1], [0, 10, 1]], { profile: plain() }), 1)).toEqual([0, 1, 1])
    expect(times(run([[0, 10, 1], [0, 10, 1]], { profile: plain({ maxPrefillTokens: 19 }) }), 1)).toEqual([1, 2, 2])
    expect(times(run([[0, 50, 1]], { profile: plain({ maxPrefillTokens: 19 }) }), 0)).toEqual([0, 1, 1])
  })

  it('a full cache keeps the next one waiting until a reservation is released', () => {
    const r = run([[0, 60, 3], [0, 60, 2]], { profile: plain() })
    expect(times(r, 1)).toEqual([1.2, 2.2, 2.3])
  })

  it('what no replica can ever hold is rejected on arrival', () => {
    const r = run([[0, 99, 2], [0, 98, 2]], { profile: plain() })
    expect(outcomes(r)).toEqual(['rejected', 'finished'])
    expect(r.rejectCause[0]).toBe(RejectCause.tooLarge)
  })
})

describe('routing, queue limits and patience', () => {
  it('least-busy goes to the fewest, ties to the lowest number', () => {
    const r = run([[0, 1, 9], [0, 1, 9], [0, 1, 9], [0.5, 1, 9]], { profile: plain() }, 3)
    expect([...r.replica]).toEqual([0, 1, 2, 0])
  })

  it('a shared queue holds back what has no room, and gives it to whoever is free first', () => {
    const profile = plain({ maxSequences: 1 })
    const r = run([[0, 1, 21], [0, 1, 11], [0.1, 1, 1], [0.2, 1, 1]], { profile, routing: 'shared-queue' }, 2)
    expect([...r.replica]).toEqual([0, 1, 1, 0])
    expect(r.start[2]).toBeCloseTo(2, 9)
    expect(r.start[3]).toBeCloseTo(3, 9)
  })

  it('a queue limit refuses those who would have to wait, not those who begin at once', () => {
    const profile = plain({ maxSequences: 1 })
    expect(outcomes(run([[0, 1, 1], [0, 1, 1], [0, 1, 1]], { profile, queueLimit: 1 }))).toEqual(['finished', 'finished', 'rejected'])
    expect(outcomes(run([[0, 1, 1], [0, 1, 1], [0, 1, 1]], { profile, queueLimit: 0 }, 2))).toEqual(['finished', 'finished', 'rejected'])
  })

  it('patience counts waiting only, and one that could be started at the very instant is', () => {
    const profile = plain({ maxSequences: 1 })
    const r = run([[0, 1, 1], [0.4, 1, 1], [0, 1, 1].map((v, i) => (i === 0 ? 0.5 : v)) as [number, number, number]], { profile, patienceSeconds: [0.6, Infinity] })
    expect(outcomes(r)).toEqual(['finished', 'finished', 'abandoned'])
    expect(r.end[2]).toBeCloseTo(1.1, 9)
    expect(r.start[1]).toBeCloseTo(1, 9)
  })

  it('before any replica is ready requests wait, and are then routed in order over all that became ready', () => {
    const r = run([[0, 1, 5], [1, 1, 5], [2, 1, 5]], { profile: plain(), readyAtSeconds: Float64Array.of(3, 3) }, 2)
    expect([...r.replica]).toEqual([0, 1, 0])
    expect([...r.start]).toEqual([3, 3, 3])
  })

  it('what is still there at the horizon is unfinished', () => {
    const r = run([[0, 1, 5], [0, 1, 50]], { profile: plain(), horizonSeconds: 2 })
    expect(outcomes(r)).toEqual(['finished', 'unfinished'])
    expect(r.end[1]).toBeNaN()
  })
})

describe('window batching, worked by hand', () => {
  const profile = batchProfile({ maxBatch: 2, baseSeconds: 1, secondsPerWorkUnit: 0.1, windowSeconds: 0.5 })

  it('starts when full, or when the oldest has waited the window; a batch costs its largest member', () => {
    const r = run([[0, 10, 0], [0.2, 5, 0], [10, 10, 0]], { profile })
    expect(times(r, 0)).toEqual([0.2, 3.2, 3.2])
    expect(times(r, 1)).toEqual([0.2, 3.2, 3.2])
    expect(times(r, 2)).toEqual([10.5, 12.5, 12.5])
  })

  it('with a window of zero takes what waits, up to the limit', () => {
    const r = run([[0, 10, 0], [0.1, 10, 0], [0.2, 10, 0], [0.3, 10, 0]], { profile: { ...profile, windowSeconds: 0 } })
    expect([...r.start].map((t) => Math.round(t * 10) / 10)).toEqual([0, 2, 2, 5])
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
    const r = run([[0, 1, 1, 0], [0, 1, 1, 1]], { profile: plain(), readyAtSeconds: Float64Array.of(Infinity), patienceSeconds: [3, Infinity], horizonSeconds: 10 })
    expect(outcomes(r)).toEqual(['abandoned', 'unfinished'])
  })
})
