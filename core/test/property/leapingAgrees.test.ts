import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import type { Requests } from '../../src/demand/requests.ts'
import { OUTCOME_NAMES } from '../../src/engine/outcome.ts'
import { simulate } from '../../src/engine/simulate.ts'
import type { ServiceRules } from '../../src/engine/rules.ts'
import { RandomStream } from '../../src/random/stream.ts'
import { table } from '../../src/service/given.ts'
import { batchProfile, rules, tokenProfile } from '../makeProfiles.ts'
import { makeRequests } from '../makeRequests.ts'
import { plainWalk } from '../reference/plainWalk.ts'

const MICROSECOND = 1e-6

function expectSame(requests: Requests, ruleSet: ServiceRules): void {
  const fast = simulate(requests, ruleSet)
  const plain = plainWalk(requests, ruleSet)
  const far = (a: number, b: number) => !(Math.abs(a - b) <= MICROSECOND || (Number.isNaN(a) && Number.isNaN(b)))
  plain.forEach((p, i) => {
    const f = { start: fast.start[i], firstToken: fast.firstToken[i], end: fast.end[i], outcome: OUTCOME_NAMES[fast.outcome[i]], replica: fast.replica[i] }
    if (far(f.start, p.start) || far(f.firstToken, p.firstToken) || far(f.end, p.end) || f.outcome !== p.outcome || f.replica !== p.replica) {
      expect(f, `request ${i} arriving at ${requests.at[i]}`).toEqual(p)
    }
  })
}

/** A log with bursts, quiet stretches and simultaneous arrivals. */
const logOf = (seed: number, count: number, meanGap: number, maxInput: number, maxOutput: number) => {
  const random = new RandomStream(seed, 'property log')
  let at = 0
  return makeRequests(
    Array.from({ length: count }, (_, i) => {
      if (i % 7 !== 3) at += -meanGap * (random.next() < 0.05 ? 20 : 0.6) * Math.log(random.open())
      return [at, 1 + Math.floor(random.next() * maxInput), 1 + Math.floor(random.next() * maxOutput), i % 2] as const
    }),
  )
}

const common = {
  seed: fc.nat(1_000_000),
  count: fc.integer({ min: 1, max: 120 }),
  meanGap: fc.constantFrom(0.005, 0.05, 0.5),
  replicas: fc.integer({ min: 1, max: 5 }),
  routing: fc.constantFrom('least-busy' as const, 'shared-queue' as const),
  queueLimit: fc.constantFrom(Infinity, 0, 3, 20),
  patience: fc.tuple(fc.constantFrom(Infinity, 0.2, 2), fc.constantFrom(Infinity, 0.7)),
  startup: fc.constantFrom(0, 0, 1.5),
  stagger: fc.constantFrom(0, 0.8),
  horizon: fc.constantFrom(1e6, 5),
}

function fleet(c: { replicas: number; startup: number; stagger: number }): Float64Array {
  return Float64Array.from({ length: c.replicas }, (_, r) => c.startup + r * c.stagger)
}

describe('the engine that leaps and a plain walk over every step', () => {
  it('agree on every token request to 1 µs, over random logs, limits and routings', () => {
    const settings = fc.record({
      ...common,
      sequences: fc.integer({ min: 1, max: 9 }),
      cacheTokens: fc.constantFrom(420, 900, 20_000),
      maxPrefillTokens: fc.constantFrom(100, 500, 8192),
      cacheSecondsPerToken: fc.constantFrom(0, 1.2e-7, 3e-5),
      arithmetic: fc.constantFrom(0, 4e-4, 5e-3),
    })
    fc.assert(
      fc.property(settings, (c) => {
        const profile = tokenProfile({
          maxSequences: c.sequences,
          cacheTokens: c.cacheTokens,
          maxPrefillTokens: c.maxPrefillTokens,
          cacheSecondsPerToken: c.cacheSecondsPerToken,
          arithmeticSeconds: table({ base: 0, perSequence: c.arithmetic }, c.sequences),
        })
        const requests = logOf(c.seed, c.count, c.meanGap, 300, 150)
        expectSame(requests, rules(c.replicas, {
          profile, routing: c.routing, queueLimit: c.queueLimit, patienceSeconds: c.patience, readyAtSeconds: fleet(c), horizonSeconds: c.horizon,
        }))
      }),
      { numRuns: 700, seed: 20_270_301 },
    )
  })

  it('agree on every batch request, over random windows and batch sizes', () => {
    const settings = fc.record({ ...common, maxBatch: fc.integer({ min: 1, max: 6 }), windowSeconds: fc.constantFrom(0, 0.03, 0.4) })
    fc.assert(
      fc.property(settings, (c) => {
        const profile = batchProfile({ maxBatch: c.maxBatch, windowSeconds: c.windowSeconds })
        const requests = logOf(c.seed, c.count, c.meanGap, 8, 1)
        expectSame(requests, rules(c.replicas, {
          profile, routing: c.routing, queueLimit: c.queueLimit, patienceSeconds: c.patience, readyAtSeconds: fleet(c), horizonSeconds: c.horizon,
        }))
      }),
      { numRuns: 500, seed: 20_270_302 },
    )
  })

  it('agree when arrivals fall exactly on step boundaries, which rounding must not decide', () => {
    const profile = tokenProfile({
      maxSequences: 6, cacheSecondsPerToken: 0, arithmeticSeconds: table(0, 6), memorySeconds: table(0.02, 6), overheadSeconds: table(0, 6),
      prefillBaseSeconds: 0.1, prefillMemorySeconds: 0, prefillSecondsPerToken: 0, prefillSecondsPerTokenSquared: 0,
    })
    const requests = makeRequests(Array.from({ length: 60 }, (_, i) => [1 + i * 0.1, 10, 3 + (i % 40)] as const))
    for (const routing of ['least-busy', 'shared-queue'] as const) expectSame(requests, rules(3, { profile, routing }))
    const run = simulate(requests, rules(1, { profile }))
    // The first request decodes from 1.1 s in steps of 20 ms; the second arrives at 1.1 s, at that very boundary.
    expect(run.start[1]).toBeCloseTo(1.1, 9)
  })
})
