import type { StartRules } from '../src/life/startRules.ts'
import { ln } from '../src/arithmetic/sameBits.ts'
import { RandomStream } from '../src/random/stream.ts'
import type { MetricName } from '../src/plan/ways.ts'
import { livingFleet } from './fleets.ts'
import { batchProfile, classRules, rules, tokenProfile } from './makeProfiles.ts'
import { makeRequests } from './makeRequests.ts'

export const HORIZON_SECONDS = 1200
const METRICS: readonly MetricName[] = ['in-flight', 'busy', 'arrivals', 'waiting', 'host-cpu']

/** A random policy over random machines with random losses, time-outs and sleep, and a random load with long silences. */
export function randomLife(seed: number) {
  const random = new RandomStream(seed, 'lives')
  const one = <T>(list: readonly T[]): T => list[Math.floor(random.next() * list.length)]
  const sleeps = random.next() < 0.4
  const max = one([1, 2, 4, 9])
  const metrics = one([[], [0], [0, 1]]).map(() => ({
    metric: one(METRICS),
    target: one([0.3, 1, 4]),
    windowSeconds: one([5, 60, 600]),
    baseShare: 0.05,
    sharePerRequest: 0.1,
  }))
  const limit = one([
    [],
    [{ unit: 'replicas' as const, amount: 1, periodSeconds: 60 }],
    [{ unit: 'percent' as const, amount: 50, periodSeconds: 30 }],
  ])
  const nodes = { replicasPerNode: one([1, 1, 3]), mostNodes: one([1, 2, 10]), idleSeconds: one([0, 60]), graceSeconds: one([0, 5, 200]) }
  const start: Partial<StartRules> = {
    nodeSeconds: one([0, 20, 150]),
    nodeSpread: one([0, 0.5]),
    imageBytes: one([0, 10e9]),
    weightBytes: one([0, 20e9]),
    weightsFrom: one(['store', 'image', 'node'] as const),
    weightTotalBytesPerSecond: one([Infinity, 1.5e9]),
    warmupSeconds: one([0, 15]),
    timeoutSeconds: one([Infinity, 60, 12]),
  }
  const losses = {
    replicaMeanSeconds: one([Infinity, 60, 900]),
    nodeMeanSeconds: one([Infinity, 200, 2000]),
    noticeSeconds: one([0, 30]),
    drills: one([
      [],
      [
        { seconds: 300, what: 'node' as const, number: 0 },
        { seconds: 300, what: 'replica' as const, number: 1 },
      ],
    ]),
  }
  const fleet = livingFleet({
    start,
    nodes,
    losses,
    seed,
    scaling: {
      min: sleeps ? 0 : one([1, Math.min(2, max)]),
      max,
      intervalSeconds: one([5, 15, 120]),
      metrics,
      up: { stabilisationSeconds: one([0, 60]), limits: limit },
      down: { stabilisationSeconds: one([0, 300]), limits: one([[], limit]) },
      schedule: one([[], [{ days: [0], fromSeconds: 200, untilSeconds: 500, min: 1 }]]),
      ...(sleeps && {
        idle: { seconds: one([10, 100]), firstCaller: one(['hold', 'refuse'] as const) },
        keepAwakeSeconds: one([Infinity, 50]),
        wakeAtSeconds: one([[], [400]]),
      }),
      ...one([{}, { ahead: { from: 'plan' as const, perReplica: 0.2, leadSeconds: 60 } }]),
    },
    context: { expectedRate: (t) => (t > 300 && t < 700 ? 0.5 : 0.05) },
  })
  let at = one([0, 0, 250])
  const requests = makeRequests(
    Array.from(
      { length: one([0, 1, 40]) },
      () =>
        [
          (at += random.next() < 0.08 ? 200 * random.next() : -4 * ln(random.open())),
          10 + Math.floor(300 * random.next()),
          1 + Math.floor(60 * random.next()),
        ] as const,
    ),
  )
  const first = classRules({
    ...one([{}, { retries: { most: 2, firstPauseSeconds: 1, growth: 2, jitter: 0 } }]),
    patienceSeconds: one([Infinity, 30]),
  })
  const profile = random.next() < 0.5 ? tokenProfile() : batchProfile({ maxBatch: 2, baseSeconds: 2 })
  if (profile.kind === 'batch') requests.output.fill(0)
  return {
    fleet,
    nodes,
    requests,
    ruleSet: rules(1, {
      profile,
      routing: one(['least-busy', 'round-robin', 'two-choice', 'shared-queue'] as const),
      queueLimit: one([Infinity, 5]),
      horizonSeconds: HORIZON_SECONDS,
      life: () => fleet,
      classes: [first, classRules()],
    }),
  }
}
