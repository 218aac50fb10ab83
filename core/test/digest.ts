import { generateRequests } from '../src/demand/generate.ts'
import { simulate } from '../src/engine/simulate.ts'
import type { Routing } from '../src/engine/rules.ts'
import { RandomStream } from '../src/random/stream.ts'
import type { Profile } from '../src/service/profile.ts'
import { batchProfile, classRules, rules, sharedProfile, tokenProfile } from './makeProfiles.ts'
import { smallPlan } from './smallPlan.ts'

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
export function digests(): Record<string, string> {
  const plan = smallPlan(new RandomStream(5, 'digest'), 5)
  const [first] = plan.classes
  const sizes = { input: { kind: 'lognormal' as const, median: 300, p95: 900 }, output: { kind: 'exponential' as const, mean: 60 } }
  plan.horizon = { ...plan.horizon, seconds: 4000 }
  plan.classes = [
    { ...first, ...sizes, name: 'a', lengthCorrelation: 0.5, arrivals: { kind: 'steady', ratePerSecond: 3, growthPerMonth: 0.5, bursts: { kind: 'two-state', factor: 5, burstSeconds: 20, quietSeconds: 200 } } },
    { ...first, ...sizes, name: 'b', turns: { count: { kind: 'fixed', value: 4 }, pauseSeconds: 9, historyTokens: 2000 }, arrivals: { kind: 'weekly', ratePerSecond: 0.4, days: [1, 1, 1, 1, 1, 1, 1], hours: Array.from({ length: 24 }, (_, h) => 1 + h / 10), bursts: { kind: 'gamma', variation: 2 } } },
  ]
  const requests = generateRequests(plan, { seed: 9 })
  const classes = [classRules({ priority: 1, cachedShare: 0.3, retries: { most: 2, firstPauseSeconds: 1, growth: 2, jitter: 0.5 } }), classRules({ patienceSeconds: 8 })]
  const out: Record<string, string> = { requests: digest([requests.at, requests.input, requests.output]) }
  Object.entries(PROFILES).forEach(([name, profile], i) => {
    const fixedWork = profile.kind === 'token' ? requests : { ...requests, output: new Int32Array(requests.count) }
    const record = simulate(fixedWork, rules(4, { profile, classes, queueLimit: 60, routing: ROUTINGS[i], horizonSeconds: 4000 }))
    out[name] = digest([record.at, record.start, record.firstToken, record.end, record.outcome, record.replica])
  })
  return out
}

/** FNV-1a over all bytes, with a second pass of another offset. */
function digest(arrays: readonly { buffer: ArrayBufferLike; byteOffset: number; byteLength: number }[]): string {
  let a = 0x811c9dc5
  let b = 0x1234567
  for (const { buffer, byteOffset, byteLength } of arrays) {
    for (const byte of new Uint8Array(buffer, byteOffset, byteLength)) {
      a = Math.imul(a ^ byte, 0x01000193)
      b = Math.imul(b ^ byte, 0x01000193) ^ (b >>> 13)
    }
  }
  return `${(a >>> 0).toString(16)} ${(b >>> 0).toString(16)}`
}
