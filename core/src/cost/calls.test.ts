import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { lossRules, nodeRules, startRules } from '../../test/fleets.ts'
import { batchProfile, rules, tokenProfile } from '../../test/makeProfiles.ts'
import { makeRequests } from '../../test/makeRequests.ts'
import type { RunRecord } from '../engine/record.ts'
import { Outcome } from '../engine/outcome.ts'
import { simulate } from '../engine/simulate.ts'
import { LivingFleet } from '../life/livingFleet.ts'
import { Stage, type LifeRecord, type StartRules } from '../life/startRules.ts'
import { RandomStream } from '../random/stream.ts'
import { onCall } from '../scaling/onCall.ts'
import { callsOf, callsPerHour, type CallPrices } from './calls.ts'

const NO_START: Partial<StartRules> = { nodeSeconds: 0, imageBytes: 0, weightBytes: 0, warmupSeconds: 0 }
const instances = (most: number, perReplica: number, keptSeconds: number, start: Partial<StartRules> = {}) =>
  new LivingFleet(startRules(start), nodeRules({ mostNodes: most, idleSeconds: 0 }), lossRules(), onCall(most, perReplica, keptSeconds), 1)

function poisson(seed: number, ratePerSecond: number, count: number, work: (random: RandomStream) => number) {
  const random = new RandomStream(seed, 'calls')
  let at = 0
  const requests = makeRequests(
    Array.from(
      { length: count },
      () => [(at -= Math.log(random.open()) / ratePerSecond), Math.max(1, Math.round(work(random))), 1] as const,
    ),
  )
  requests.output.fill(0)
  return { requests, end: at + 100 }
}
const millis = batchProfile({ maxBatch: 1, baseSeconds: 0, secondsPerWorkUnit: 0.001 })

describe('calls that overlap in one instance', () => {
  it('are one stretch of paid time: 1,000 calls of 1 s that begin every tenth of a second are paid for 102 s', () => {
    const times = Array.from({ length: 1000 }, (_, i) => i / 10)
    const record = {
      replica: new Int16Array(1000),
      start: Float64Array.from(times),
      end: Float64Array.from(times, (t) => t + 1.2),
      endSeconds: 500,
    } as unknown as RunRecord // only what is read
    const prices: CallPrices = {
      perCall: 0,
      perGigabyteSecond: 1,
      gigabytes: 1,
      freeCallsPerMonth: 0,
      freeGigabyteSecondsPerMonth: 0,
      startIsPaid: false,
      stepSeconds: 1,
    }
    expect(callsOf(record, { events: [] } as unknown as LifeRecord, prices)).toEqual({ calls: 1000, busySeconds: 102, startSeconds: 0 })
    // A gap is the end of a stretch, and each is rounded up.
    const apart = {
      ...record,
      replica: new Int16Array(2),
      start: Float64Array.of(0, 1.5),
      end: Float64Array.of(1.2, 2),
    } as unknown as RunRecord
    expect(callsOf(apart, { events: [] } as unknown as LifeRecord, prices).busySeconds).toBe(2 + 1)
  })
})

describe('callers above the ceiling of calls', () => {
  const run = (queueLimit: number, times: readonly number[]) => {
    const fleet = instances(2, 1, 60, { ...NO_START, warmupSeconds: 3 })
    return simulate(
      makeRequests(times.map((t) => [t, 1, 1] as const)),
      rules(1, {
        profile: batchProfile({ maxBatch: 1, baseSeconds: 10, secondsPerWorkUnit: 0 }),
        routing: 'shared-queue',
        horizonSeconds: 500,
        queueLimit,
        life: () => fleet,
      }),
    )
  }
  it('are refused at once with a queue of none: whose instance is on its way is no such caller', () => {
    // Two instances may be there. The third finds both on their way for others; the fourth comes when both are free again.
    const record = run(0, [0, 1, 2, 20])
    expect([...record.outcome]).toEqual([Outcome.finished, Outcome.finished, Outcome.rejected, Outcome.finished])
    expect([...record.start]).toEqual([3, 4, NaN, 20])
  })
  it('or wait, without a limit to the queue', () => {
    expect([...run(Infinity, [0, 1, 2, 20]).start]).toEqual([3, 4, 13, 20])
  })
})

describe('instances that come with calls', () => {
  it('that start in no time serve every request exactly as a fixed fleet of all of them with one queue', () => {
    for (const [profile, perReplica] of [
      [millis, 1],
      [tokenProfile({ maxSequences: 4 }), 4],
    ] as const) {
      const { requests, end } = poisson(1, 5, 2000, (r) => 600 * -Math.log(r.open()))
      if (perReplica === 4) requests.output.fill(30)
      const fleet = instances(3, perReplica, 1e9, NO_START)
      const called = simulate(requests, rules(1, { profile, horizonSeconds: end, routing: 'shared-queue', life: () => fleet }), {})
      const fixed = simulate(requests, rules(3, { profile, horizonSeconds: end, routing: 'shared-queue' }), {})
      if (perReplica === 1)
        for (const column of ['start', 'end', 'outcome'] as const) expect([...called[column]]).toEqual([...fixed[column]])
      expect(called.outcome.every((o, i) => o === fixed.outcome[i])).toBe(true)
      expect(fleet.record.events.filter((e) => e.stage === Stage.ready)).toHaveLength(3)
    }
  })

  it('find a warm one as often as a Poisson process says: a cold start where nobody called for the kept time', () => {
    const rate = 1 / 200
    const { requests, end } = poisson(2, rate, 20_000, () => 10)
    const fleet = instances(50, 1, 300, { ...NO_START, warmupSeconds: 0.5 })
    const record = simulate(requests, rules(1, { profile: millis, horizonSeconds: end, routing: 'shared-queue', life: () => fleet }), {})
    const cold = record.start.reduce((n, s, i) => n + (s - requests.at[i] > 0.25 ? 1 : 0), 0) / requests.count
    // The gap from an end to the next call; calls within half a second of another are rare here.
    const expected = Math.exp(-rate * 300.01)
    expect(Math.abs(cold - expected)).toBeLessThan(2.576 * Math.sqrt((expected * (1 - expected)) / requests.count) + 0.003)
  })

  it('by hand: three at once bring three, the fourth waits for the first that is free, and all go when they were kept', () => {
    const requests = makeRequests([
      [10, 1000, 1],
      [10.1, 1000, 1],
      [10.2, 1000, 1],
      [10.3, 1000, 1],
    ])
    requests.output.fill(0)
    const fleet = instances(3, 1, 60, { ...NO_START, nodeSeconds: 4, warmupSeconds: 1 })
    const record = simulate(requests, rules(1, { profile: millis, horizonSeconds: 200, routing: 'shared-queue', life: () => fleet }), {})
    const close = (x: number) => expect.closeTo(x, 9) as number
    expect([...record.start]).toEqual([close(15), close(15.1), close(15.2), close(16)])
    const prices: CallPrices = {
      perCall: 0,
      perGigabyteSecond: 0,
      gigabytes: 1,
      freeCallsPerMonth: 0,
      freeGigabyteSecondsPerMonth: 0,
      startIsPaid: true,
      stepSeconds: 0.1,
    }
    expect(callsOf(record, fleet.record, prices)).toEqual({ calls: 4, busySeconds: close(4), startSeconds: close(3) })
    expect(fleet.record.nodes.map((n) => n.until)).toEqual([close(77), close(76.1), close(76.2)])
    expect(fleet.record.wanted.map((w) => w.replicas)).toEqual([1, 2, 3, 2, 1, 0])
  })
})

describe('what calls cost', () => {
  const prices: CallPrices = {
    perCall: 2e-6,
    perGigabyteSecond: 2e-5,
    gigabytes: 4,
    freeCallsPerMonth: 1e6,
    freeGigabyteSecondsPerMonth: 4e5,
    startIsPaid: false,
    stepSeconds: 1,
  }
  it('by hand: a week of 700,000 calls of half a second, each rounded up to one', () => {
    const calls = { calls: 700_000, busySeconds: 700_000, startSeconds: 5000 }
    const months = 168 / 730
    const month = (700_000 / months - 1e6) * 2e-6 + ((700_000 * 4) / months - 4e5) * 2e-5
    expect(callsPerHour(calls, prices, 168 * 3600) * 730).toBeCloseTo(month, 6)
    const withStarts = (700_000 / months - 1e6) * 2e-6 + ((705_000 * 4) / months - 4e5) * 2e-5
    expect(callsPerHour(calls, { ...prices, startIsPaid: true }, 168 * 3600) * 730).toBeCloseTo(withStarts, 6)
  })
  it('nothing while the allowance is enough', () => {
    expect(callsPerHour({ calls: 1000, busySeconds: 1000, startSeconds: 0 }, prices, 168 * 3600)).toBe(0)
  })
  it('side by side in one instance their common time counts once', () => {
    const requests = makeRequests([
      [0, 10, 20],
      [0, 10, 20],
    ])
    const fleet = instances(1, 4, 60, NO_START)
    const record = simulate(
      requests,
      rules(1, { profile: tokenProfile({ maxSequences: 4 }), horizonSeconds: 100, routing: 'shared-queue', life: () => fleet }),
      {},
    )
    const span = Math.max(...record.end) - Math.min(...record.start)
    const step = 0.001
    expect(callsOf(record, fleet.record, { ...prices, stepSeconds: step }).busySeconds).toBeLessThan(span + 2 * step + 1e-9)
    expect(callsOf(record, fleet.record, { ...prices, stepSeconds: step }).busySeconds).toBeGreaterThanOrEqual(span - 1e-9)
  })
})

describe('counting calls', () => {
  it('in whatever order they were started: every instant in which an instance had a call, by hand', () => {
    const call = fc.record({
      start: fc.option(fc.integer({ min: 0, max: 400 }), { nil: NaN }),
      seconds: fc.integer({ min: 0, max: 40 }),
      replica: fc.integer({ min: 0, max: 3 }),
    })
    const life = { events: [] as LifeRecord['events'] } as LifeRecord
    let turned = 0
    fc.assert(
      fc.property(fc.array(call, { maxLength: 60, size: 'max' }), fc.boolean(), (calls, backwards) => {
        if (backwards) calls.sort((a, b) => (b.start || 0) - (a.start || 0))
        if (backwards && calls.length > 40) turned++
        const record = {
          start: Float64Array.from(calls, (c) => c.start),
          end: Float64Array.from(calls, (c) => c.start + c.seconds),
          replica: Int16Array.from(calls, (c) => c.replica),
          endSeconds: 1000,
        } as unknown as RunRecord
        const busy = new Set(
          calls.flatMap((c) => Array.from({ length: Number.isNaN(c.start) ? 0 : c.seconds }, (_, s) => `${c.replica} ${c.start + s}`)),
        )
        expect(
          callsOf(record, life, {
            perCall: 0,
            perGigabyteSecond: 0,
            gigabytes: 1,
            freeCallsPerMonth: 0,
            freeGigabyteSecondsPerMonth: 0,
            startIsPaid: false,
            stepSeconds: 1,
          }),
        ).toEqual({ calls: calls.filter((c) => !Number.isNaN(c.start)).length, busySeconds: busy.size, startSeconds: 0 })
      }),
      { numRuns: 300 },
    )
    expect(turned).toBeGreaterThan(5)
  })
})
