import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import type { Requests } from '../../src/demand/requests.ts'
import { OUTCOME_NAMES, RejectCause } from '../../src/engine/outcome.ts'
import { simulate } from '../../src/engine/simulate.ts'
import type { ClassRules, ServiceRules } from '../../src/engine/rules.ts'
import { RandomStream } from '../../src/random/stream.ts'
import { table } from '../../src/service/given.ts'
import { batchProfile, classRules, rules, sharedProfile, tokenProfile } from '../makeProfiles.ts'
import { makeRequests } from '../makeRequests.ts'
import { plainWalk } from '../reference/plainWalk.ts'

const MICROSECOND = 1e-6

/** @returns how much of the rarer rules the run exercised */
function expectSame(requests: Requests, ruleSet: ServiceRules): { evictions: number; lost: number } {
  const fast = simulate(requests, ruleSet)
  const plain = plainWalk(requests, ruleSet)
  const far = (a: number, b: number) => !(Math.abs(a - b) <= MICROSECOND || (Number.isNaN(a) && Number.isNaN(b)))
  plain.requests.forEach((p, i) => {
    const f = { at: fast.at[i], start: fast.start[i], firstToken: fast.firstToken[i], end: fast.end[i], outcome: OUTCOME_NAMES[fast.outcome[i]], replica: fast.replica[i] }
    if (far(f.at, p.at) || far(f.start, p.start) || far(f.firstToken, p.firstToken) || far(f.end, p.end) || f.outcome !== p.outcome || f.replica !== p.replica) {
      expect(f, `request ${i} arriving at ${requests.at[i]}`).toEqual(p)
    }
  })
  expect(fast.evictions).toBe(plain.evictions)
  const classes = ruleSet.classes.length
  const causes = Object.fromEntries(Object.keys(plain.lostAttempts).map((cause) => {
    const row = RejectCause[cause as keyof typeof plain.lostAttempts] * classes
    return [cause, fast.lostAttempts.slice(row, row + classes).reduce((a, b) => a + b, 0)]
  }))
  expect(causes).toEqual(plain.lostAttempts)
  return { evictions: plain.evictions, lost: Object.values(plain.lostAttempts).reduce((a, b) => a + b, 0) }
}

/** A log with bursts, quiet stretches and simultaneous arrivals; some requests may follow others. */
const logOf = (seed: number, count: number, meanGap: number, maxInput: number, maxOutput: number, following: number): Requests => {
  const random = new RandomStream(seed, 'property log')
  let at = 0
  const requests = makeRequests(
    Array.from({ length: count }, (_, i) => {
      if (i % 7 !== 3) at += -meanGap * (random.next() < 0.05 ? 20 : 0.6) * Math.log(random.open())
      return [at, 1 + Math.floor(random.next() * maxInput), 1 + Math.floor(random.next() * maxOutput), i % 2] as const
    }),
  )
  if (following === 0) return requests
  const next = new Int32Array(count).fill(-1)
  const pause = new Float64Array(count).fill(NaN)
  for (let i = 0; i + 5 < count; i++) {
    const follower = i + 1 + Math.floor(random.next() * 4)
    if (random.next() >= following || !Number.isNaN(pause[follower])) continue
    next[i] = follower
    pause[follower] = random.next() < 0.3 ? 0 : random.next()
  }
  return { ...requests, chain: { next, pause } }
}

const classes = fc.tuple(fc.constantFrom(0, 0, 3, -2), fc.constantFrom(Infinity, Infinity, 0.2, 2), fc.constantFrom(0, 0, 0.4, 1), fc.constantFrom(0, 0, 1, 2), fc.constantFrom(0, 0, 1, 2)).map(
  ([priority, patienceSeconds, cachedShare, retry, limit]): ClassRules => classRules({
    priority, patienceSeconds, cachedShare,
    ...(retry > 0 && { retries: { most: retry, firstPauseSeconds: 0.3 * retry, growth: retry, jitter: retry === 2 ? 0.5 : 0 } }),
    ...(limit > 0 && { rateLimit: limit === 1 ? { unit: 'requests', perSecond: 3, burst: 4 } : { unit: 'tokens', perSecond: 500, burst: 900 } }),
  }),
)

const common = {
  seed: fc.nat(1_000_000),
  count: fc.integer({ min: 1, max: 120 }),
  meanGap: fc.constantFrom(0.005, 0.05, 0.5),
  following: fc.constantFrom(0, 0, 0.5),
  replicas: fc.integer({ min: 1, max: 5 }),
  routing: fc.constantFrom('least-busy' as const, 'shared-queue' as const, 'round-robin' as const, 'two-choice' as const),
  queueLimit: fc.constantFrom(Infinity, Infinity, 0, 3, 20),
  classes: fc.tuple(classes, classes),
  startup: fc.constantFrom(0, 0, 1.5),
  stagger: fc.constantFrom(0, 0.8),
  horizon: fc.constantFrom(1e6, 5),
}
const tokenSettings = {
  ...common,
  sequences: fc.integer({ min: 1, max: 9 }),
  cacheTokens: fc.constantFrom(460, 900, 20_000),
  reservation: fc.constantFrom('whole' as const, 'optimistic' as const),
  draft: fc.constantFrom(1, 1, 2, 2.6),
  cacheSecondsPerToken: fc.constantFrom(0, 1.2e-7, 3e-5),
  arithmetic: fc.constantFrom(0, 4e-4, 5e-3),
  squared: fc.constantFrom(0, 2e-10, 1e-6),
}
type Common = { [K in keyof typeof common]: (typeof common)[K] extends fc.Arbitrary<infer T> ? T : never }
type TokenSetting = { [K in keyof typeof tokenSettings]: (typeof tokenSettings)[K] extends fc.Arbitrary<infer T> ? T : never }

function ruleSetOf(c: Common, profile: ServiceRules['profile']): ServiceRules {
  return rules(c.replicas, {
    profile, routing: c.routing, seed: c.seed, queueLimit: c.queueLimit, classes: c.classes, horizonSeconds: c.horizon,
    readyAtSeconds: Float64Array.from({ length: c.replicas }, (_, r) => c.startup + r * c.stagger),
  })
}

function tokenProfileOf(c: TokenSetting) {
  return {
    maxSequences: c.sequences, cacheTokens: c.cacheTokens, cacheSecondsPerToken: c.cacheSecondsPerToken, reservation: c.reservation,
    tokensPerStep: c.draft, scheduledPerSequence: c.draft === 1 ? 1 : 4, prefillSecondsPerTokenSquared: c.squared,
    arithmeticSeconds: table({ base: 0, perSequence: c.arithmetic }, c.sequences),
  }
}

describe('the engine that leaps and a plain walk over every step', () => {
  it('agree on every request to 1 µs with whole prompts, over random logs, limits, routings and classes', () => {
    const seen = { evictions: 0, lost: 0 }
    fc.assert(
      fc.property(fc.record({ ...tokenSettings, maxPrefillTokens: fc.constantFrom(100, 500, 8192) }), (c) => {
        const profile = tokenProfile({ ...tokenProfileOf(c), maxPrefillTokens: c.maxPrefillTokens })
        const { evictions, lost } = expectSame(logOf(c.seed, c.count, c.meanGap, 300, 150, c.following), ruleSetOf(c, profile))
        seen.evictions += evictions
        seen.lost += lost
      }),
      { numRuns: 900, seed: 20_270_301 },
    )
    expect(seen.evictions, 'evictions in all runs').toBeGreaterThan(500)
    expect(seen.lost, 'attempts turned away or given up').toBeGreaterThan(5000)
  })

  it('agree with interleaved prompts, whatever the budget of a step', () => {
    fc.assert(
      fc.property(fc.record({ ...tokenSettings, stepTokens: fc.constantFrom(1, 8, 60, 200, 2048) }), (c) => {
        const profile = tokenProfile({ ...tokenProfileOf(c), prompts: 'interleaved', stepTokens: c.stepTokens })
        expectSame(logOf(c.seed, c.count, c.meanGap, 300, 150, c.following), ruleSetOf(c, profile))
      }),
      { numRuns: 900, seed: 20_270_304 },
    )
  })

  it('agree on every batch request, over random windows, batch sizes and items', () => {
    const settings = fc.record({ ...common, maxBatch: fc.integer({ min: 1, max: 6 }), windowSeconds: fc.constantFrom(0, 0.03, 0.4), items: fc.constantFrom(1, 1, 3, 9), iterative: fc.boolean() })
    fc.assert(
      fc.property(settings, (c) => {
        const profile = batchProfile({ maxBatch: c.maxBatch, windowSeconds: c.windowSeconds })
        const steps = c.iterative ? { secondsPerWorkUnit: table({ base: 0.02, perSequence: 0.001 }, c.maxBatch) } : {}
        expectSame(logOf(c.seed, c.count, c.meanGap, 8, c.items, c.following), ruleSetOf(c, { ...profile, ...steps }))
      }),
      { numRuns: 700, seed: 20_270_302 },
    )
  })

  // Sizes are fine-grained here: ends of two hosts that fall together by rounding alone are in order of computed time.
  it('agree on side-by-side service, from no slow-down to more than one shared processor', () => {
    const settings = fc.record({ ...common, slots: fc.integer({ min: 1, max: 6 }), slowdown: fc.constantFrom(0, 0.2531, 1, 1.4983), items: fc.constantFrom(1, 3) })
    fc.assert(
      fc.property(settings, (c) => expectSame(logOf(c.seed, c.count, c.meanGap, 1000, c.items, c.following), ruleSetOf(c, sharedProfile({ slots: c.slots, slowdown: c.slowdown, secondsPerWorkUnit: 2.003e-4 }))) !== undefined),
      { numRuns: 500, seed: 20_270_303 },
    )
  })

  it('agree when arrivals fall exactly on step boundaries, which rounding must not decide', () => {
    const profile = tokenProfile({
      maxSequences: 6, cacheSecondsPerToken: 0, arithmeticSeconds: table(0, 6), memorySeconds: table(0.02, 6), overheadSeconds: table(0, 6),
      prefillBaseSeconds: 0.1, prefillMemorySeconds: 0, prefillSecondsPerToken: 0, prefillSecondsPerTokenSquared: 0,
    })
    const requests = makeRequests(Array.from({ length: 60 }, (_, i) => [1 + i * 0.1, 10, 3 + (i % 40)] as const))
    for (const routing of ['least-busy', 'shared-queue', 'round-robin', 'two-choice'] as const) expectSame(requests, rules(3, { profile, routing }))
    expectSame(requests, rules(3, { profile: { ...profile, prompts: 'interleaved', stepTokens: 4 } }))
    const run = simulate(requests, rules(1, { profile }))
    // The first request decodes from 1.1 s in steps of 20 ms; the second arrives at 1.1 s, at that very boundary.
    expect(run.start[1]).toBeCloseTo(1.1, 9)
  })
})
