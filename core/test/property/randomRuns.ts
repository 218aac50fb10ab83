import fc from 'fast-check'
import type { Requests } from '../../src/demand/requests.ts'
import { OUTCOME_NAMES } from '../../src/engine/outcome.ts'
import type { RunRecord } from '../../src/engine/record.ts'
import type { ClassRules, OfferLimit, ServiceRules } from '../../src/engine/rules.ts'
import { simulate } from '../../src/engine/simulate.ts'
import { ScriptedFleet, type FleetEvent } from '../../src/life/scriptedFleet.ts'
import { RandomStream } from '../../src/random/stream.ts'
import { table } from '../../src/service/given.ts'
import { batchProfile, classRules, rules, sharedProfile, soldProfile, tokenProfile } from '../makeProfiles.ts'
import { makeRequests } from '../makeRequests.ts'
import { plainWalk, type Walk } from '../reference/plainWalk.ts'

/** A run of the engine and of the plain walk over every step, on the same requests. */
export interface Comparison {
  requests: Requests
  rules: ServiceRules
  /** what happens to the fleet, when it is more than becoming ready */
  script?: FleetEvent[]
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

const LIMITS: NonNullable<ClassRules['rateLimit']>[] = [
  { unit: 'requests', perSecond: 3, burst: 4 },
  { unit: 'tokens', perSecond: 500, burst: 900 },
  { unit: 'requests', perSecond: 1, burst: 2, callers: { count: 4, skew: 1 } },
]

const OFFER_LIMITS: OfferLimit[] = [
  { unit: 'requests', perSecond: 2, burst: 12 },
  { unit: 'tokens', perSecond: 900, burst: 4000 },
  { unit: 'input', perSecond: 400, burst: 3000 },
  { unit: 'output', perSecond: 200, burst: 900 },
]

const classes = fc
  .tuple(
    fc.constantFrom(0, 0, 3, -2),
    fc.constantFrom(Infinity, Infinity, 0.2, 2),
    fc.constantFrom(0, 0, 0.4, 1),
    fc.constantFrom(0, 0, 1, 2),
    fc.constantFrom(0, 0, 0, 0, 1, 1, 2, 2, 3),
  )
  .map(([priority, patienceSeconds, cachedShare, retry, limit]): ClassRules =>
    classRules({
      priority,
      patienceSeconds,
      cachedShare,
      ...(retry > 0 && { retries: { most: retry, firstPauseSeconds: 0.3 * retry, growth: retry, jitter: retry === 2 ? 0.5 : 0 } }),
      ...(limit > 0 && { rateLimit: LIMITS[limit - 1] }),
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
    profile,
    routing: c.routing,
    seed: c.seed,
    queueLimit: c.queueLimit,
    classes: c.classes,
    horizonSeconds: c.horizon,
    readyAtSeconds: Float64Array.from({ length: c.replicas }, (_, r) => c.startup + r * c.stagger),
  })
}

function tokenProfileOf(c: TokenSetting) {
  return {
    maxSequences: c.sequences,
    cacheTokens: c.cacheTokens,
    cacheSecondsPerToken: c.cacheSecondsPerToken,
    reservation: c.reservation,
    tokensPerStep: c.draft,
    scheduledPerSequence: c.draft === 1 ? 1 : 4,
    prefillSecondsPerTokenSquared: c.squared,
    arithmeticSeconds: table({ base: 0, perSequence: c.arithmetic }, c.sequences),
  }
}

const tokenRun = (c: TokenSetting, parts: Parameters<typeof tokenProfile>[0]): Comparison => ({
  requests: logOf(c.seed, c.count, c.meanGap, 300, 150, c.following),
  rules: ruleSetOf(c, tokenProfile({ ...tokenProfileOf(c), ...parts })),
})

/** Random runs of every kind of service: logs, limits, routings, classes and profiles. */
export const RUNS = {
  'whole prompts': fc
    .record({ ...tokenSettings, maxPrefillTokens: fc.constantFrom(100, 500, 8192) })
    .map((c) => tokenRun(c, { maxPrefillTokens: c.maxPrefillTokens })),
  'interleaved prompts': fc
    .record({ ...tokenSettings, stepTokens: fc.constantFrom(1, 8, 60, 200, 2048) })
    .map((c) => tokenRun(c, { prompts: 'interleaved', stepTokens: c.stepTokens })),
  batches: fc
    .record({
      ...common,
      maxBatch: fc.integer({ min: 1, max: 6 }),
      windowSeconds: fc.constantFrom(0, 0.03, 0.4),
      items: fc.constantFrom(1, 1, 3, 9),
      iterative: fc.boolean(),
    })
    .map((c): Comparison => {
      const steps = c.iterative ? { secondsPerWorkUnit: table({ base: 0.02, perSequence: 0.001 }, c.maxBatch) } : {}
      const profile = { ...batchProfile({ maxBatch: c.maxBatch, windowSeconds: c.windowSeconds }), ...steps }
      return { requests: logOf(c.seed, c.count, c.meanGap, 8, c.items, c.following), rules: ruleSetOf(c, profile) }
    }),
  // Sizes are fine-grained here: ends of two hosts that fall together by rounding alone are in order of computed time.
  'side by side': fc
    .record({
      ...common,
      slots: fc.integer({ min: 1, max: 6 }),
      slowdown: fc.constantFrom(0, 0.2531, 1, 1.4983),
      items: fc.constantFrom(1, 3),
    })
    .map((c): Comparison => {
      const profile = sharedProfile({ slots: c.slots, slowdown: c.slowdown, secondsPerWorkUnit: 2.003e-4 })
      return { requests: logOf(c.seed, c.count, c.meanGap, 1000, c.items, c.following), rules: ruleSetOf(c, profile) }
    }),
  'sold by tokens': fc
    .record({
      ...common,
      slots: fc.constantFrom(1, 2, 5, 100),
      spread: fc.constantFrom(1, 3),
      requestTokens: fc.constantFrom(300, 1e6),
      offer: fc.subarray(OFFER_LIMITS),
    })
    .map((c): Comparison => {
      const firstToken = { median: 0.2, p95: 0.2 * c.spread }
      const profile = soldProfile({ slots: c.slots, firstToken, requestTokens: c.requestTokens })
      return {
        requests: logOf(c.seed, c.count, c.meanGap, 300, 150, c.following),
        rules: { ...ruleSetOf(c, profile), offerLimits: c.offer },
      }
    }),
}

/** The same run with a fleet that comes, drains, is lost and comes again by chance. */
export function withScript(run: Comparison, seed: number): Comparison {
  const random = new RandomStream(seed, 'fleet script')
  const slots = run.rules.readyAtSeconds.length
  const script: FleetEvent[] = []
  for (let replica = 0; replica < slots; replica++) {
    let seconds = random.next() < 0.5 ? 0 : 2 * random.next()
    let open = false
    for (let i = 0; i < 7; i++) {
      const what: FleetEvent['what'] = !open ? 'open' : random.next() < 0.5 ? 'lose' : 'drain'
      script.push({ seconds, replica, what })
      // A number is given anew only after whoever had it is gone for sure.
      if (what === 'drain') script.push({ seconds: seconds + 3 * random.next(), replica, what: 'lose' })
      open = what === 'open'
      seconds += 3.0001 + 4 * random.next()
    }
  }
  script.sort((a, b) => a.seconds - b.seconds || a.replica - b.replica)
  return { ...run, script, rules: { ...run.rules, life: () => new ScriptedFleet(slots, script) } }
}

/** Both runs, and the largest difference between any two times of a request, seconds; Infinity when they differ in more than times. */
export function compare({ requests, rules: ruleSet, script }: Comparison): {
  fast: RunRecord
  plain: Walk
  difference: number
  worst: number
} {
  const fast = simulate(requests, ruleSet)
  const plain = plainWalk(requests, ruleSet, ruleSet.readyAtSeconds.length, script)
  let difference = 0
  let worst = -1
  plain.requests.forEach((p, i) => {
    const same = OUTCOME_NAMES[fast.outcome[i]] === p.outcome && fast.replica[i] === p.replica
    const off = same
      ? Math.max(apart(fast.at[i], p.at), apart(fast.start[i], p.start), apart(fast.firstToken[i], p.firstToken), apart(fast.end[i], p.end))
      : Infinity
    if (off > difference) {
      difference = off
      worst = i
    }
  })
  return { fast, plain, difference, worst }
}

function apart(a: number, b: number): number {
  if (Number.isNaN(a) || Number.isNaN(b)) return Number.isNaN(a) === Number.isNaN(b) ? 0 : Infinity
  return Math.abs(a - b)
}
