import { generateRequests } from '../../src/demand/generate.ts'
import { simulate } from '../../src/engine/simulate.ts'
import type { Routing } from '../../src/plan/ways.ts'
import { RandomStream } from '../../src/random/stream.ts'
import type { Profile } from '../../src/service/profile.ts'
import { batchProfile, classRules, rules, sharedProfile, tokenProfile } from '../makeProfiles.ts'
import { randomLife } from '../randomLife.ts'
import { smallPlan } from '../smallPlan.ts'
import { digestOf, digestOfText } from './digest.ts'

const TOKEN = { cacheTokens: 3000, maxSequences: 12 }
const PROFILES: Record<string, Profile> = {
  whole: tokenProfile(TOKEN),
  interleaved: tokenProfile({ ...TOKEN, prompts: 'interleaved', stepTokens: 300, tokensPerStep: 1.7 }),
  optimistic: tokenProfile({ ...TOKEN, reservation: 'optimistic' }),
  batch: batchProfile({ windowSeconds: 0.05, secondsPerWorkUnit: 2e-4 }),
  shared: sharedProfile({ secondsPerWorkUnit: 1e-3 }),
}
const ROUTINGS: Routing[] = ['least-busy', 'two-choice', 'shared-queue', 'round-robin', 'least-busy']

/**
 * A digest of every bit of the times of a run for each kind of service, over drawn requests of every kind: bursts, a week,
 * growth, dependent lengths, conversations. Equal digests on two platforms mean equal draws and equal sums.
 */
export function runDigests(): Record<string, string> {
  const plan = smallPlan(new RandomStream(5, 'digest'), 5)
  const [first] = plan.classes
  const sizes = { input: { kind: 'lognormal' as const, median: 300, p95: 900 }, output: { kind: 'exponential' as const, mean: 60 } }
  plan.horizon = { ...plan.horizon, seconds: 4000 }
  plan.classes = [
    {
      ...first,
      ...sizes,
      name: 'a',
      lengthCorrelation: 0.5,
      arrivals: {
        kind: 'steady',
        ratePerSecond: 3,
        growthPerMonth: 0.5,
        bursts: { kind: 'two-state', factor: 5, burstSeconds: 20, quietSeconds: 200 },
      },
    },
    {
      ...first,
      ...sizes,
      name: 'b',
      turns: { count: { kind: 'fixed', value: 4 }, pauseSeconds: 9, historyTokens: 2000 },
      arrivals: {
        kind: 'weekly',
        ratePerSecond: 0.4,
        days: [1, 1, 1, 1, 1, 1, 1],
        hours: Array.from({ length: 24 }, (_, h) => 1 + h / 10),
        bursts: { kind: 'gamma', variation: 2 },
      },
    },
  ]
  const requests = generateRequests(plan, { seed: 9 })
  const classes = [
    classRules({ priority: 1, cachedShare: 0.3, retries: { most: 2, firstPauseSeconds: 1, growth: 2, jitter: 0.5 } }),
    classRules({ patienceSeconds: 8 }),
  ]
  const out: Record<string, string> = { requests: digestOf([requests.at, requests.input, requests.output]) }
  Object.entries(PROFILES).forEach(([name, profile], i) => {
    const fixedWork = profile.kind === 'token' ? requests : { ...requests, output: new Int32Array(requests.count) }
    const record = simulate(fixedWork, rules(4, { profile, classes, queueLimit: 60, routing: ROUTINGS[i], horizonSeconds: 4000 }))
    out[name] = digestOf([record.at, record.start, record.firstToken, record.end, record.outcome, record.replica])
  })
  return { ...out, lives: lives() }
}

const LIVES = 60

/** Fleets that come and go: their events, and the times of their requests. */
function lives(): string {
  return digestOfText(
    Array.from({ length: LIVES }, (_, seed) => {
      const { fleet, requests, ruleSet } = randomLife(seed)
      const record = simulate(requests, ruleSet)
      return [digestOf([record.at, record.start, record.firstToken, record.end, record.outcome, record.replica]), fleet.record]
    }),
  )
}
