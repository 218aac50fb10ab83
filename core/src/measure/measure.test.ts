import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { batchProfile, rules, tokenProfile } from '../../test/makeProfiles.ts'
import { makeRequests } from '../../test/makeRequests.ts'
import { simulate } from '../engine/simulate.ts'
import type { Target } from '../plan/schema.ts'
import { certainty } from './certainty.ts'
import { interval95 } from './interval.ts'
import { percentile } from './percentile.ts'
import { spread } from './summary.ts'
import { holds, overdueSeconds, readTarget, unserved } from './targets.ts'

const promise = (target: Target) => ({ target, overdueSeconds: overdueSeconds({ targets: [target] }) })
const everything = { classIndex: 0, fromSeconds: 0, untilSeconds: Infinity }

describe('percentile', () => {
  it('is the smallest value with at least the share at or below it', () => {
    fc.assert(
      fc.property(fc.array(fc.double({ min: 0, max: 1e6, noNaN: true }), { minLength: 1 }), fc.integer({ min: 1, max: 100 }), (list, q) => {
        const sorted = Float64Array.from(list).sort()
        const value = percentile(sorted, q / 100)!
        const atOrBelow = sorted.filter((v) => v <= value).length
        const below = sorted.filter((v) => v < value).length
        expect(atOrBelow * 100).toBeGreaterThanOrEqual(q * list.length)
        expect(below * 100).toBeLessThan(q * list.length)
      }),
      { seed: 1 },
    )
  })

  it('of nothing is no data, never 0', () => {
    expect(percentile(new Float64Array(0), 0.95)).toBeUndefined()
    expect(spread(new Float64Array(0))).toEqual({
      count: 0,
      mean: undefined,
      p50: undefined,
      p90: undefined,
      p95: undefined,
      p99: undefined,
      max: undefined,
    })
  })
})

describe('readTarget', () => {
  const latency: Target = { measure: 'latency', percentile: 50, seconds: 2 }
  const one = batchProfile({ maxBatch: 1, baseSeconds: 1, secondsPerWorkUnit: 0 })

  it('counts lost requests as misses', () => {
    // A server of one request a second, a queue of one: the first two finish, the others are refused.
    const record = simulate(
      makeRequests([
        [0, 1, 0],
        [0, 1, 0],
        [0, 1, 0],
        [0, 1, 0],
        [0, 1, 0],
      ]),
      rules(1, { profile: one, queueLimit: 1 }),
    )
    expect(readTarget(record, promise(latency), everything, 0)).toEqual({ value: Infinity, misses: 3, considered: 5 })
    expect(readTarget(record, promise({ measure: 'lost', share: 0.1 }), everything, 0)).toEqual({ value: 0.6, misses: 3, considered: 5 })
  })

  it('counts an unfinished request only once it is late', () => {
    const record = simulate(
      makeRequests([
        [0, 1, 0],
        [0, 1, 0],
        [9.5, 1, 0],
      ]),
      rules(1, { profile: batchProfile({ maxBatch: 1, baseSeconds: 4 }), horizonSeconds: 10 }),
    )
    const reading = readTarget(record, promise({ measure: 'latency', percentile: 99, seconds: 5 }), everything, 0)
    expect(reading.considered).toBe(2)
    expect(reading.misses).toBe(1)
    expect(readTarget(record, promise({ measure: 'latency', percentile: 99, seconds: 0.4 }), everything, 0).considered).toBe(3)
  })

  it('counts whom nobody serves as a miss of every time once it is overdue', () => {
    // Nobody is ever ready: the first has been there for 100 s, the second for 40.
    const record = simulate(
      makeRequests([
        [0, 10, 9],
        [60, 10, 9],
      ]),
      rules(1, { profile: tokenProfile(), readyAtSeconds: Float64Array.of(Infinity), horizonSeconds: 100 }),
    )
    const read = (target: Target, patienceSeconds?: number) =>
      readTarget(
        record,
        { target, overdueSeconds: overdueSeconds({ targets: [target], ...(patienceSeconds !== undefined && { patienceSeconds }) }) },
        everything,
        0,
      )
    const tpot: Target = { measure: 'tpot', percentile: 95, seconds: 0.1 }
    expect(read(tpot)).toEqual({ value: Infinity, misses: 1, considered: 1 })
    expect(read(tpot, 30).misses).toBe(2)
    expect(read(tpot, 200)).toEqual({ value: undefined, misses: 0, considered: 0 })
    expect(overdueSeconds({ patienceSeconds: 5, targets: [tpot, { measure: 'latency', percentile: 95, seconds: 30 }] })).toBe(30)
    for (const target of [tpot, { measure: 'lost', share: 0.9 }, { measure: 'throughput', perSecond: 1e-9 }] satisfies Target[])
      expect(holds(unserved(record, target, everything)!, target, 0)).toBe(false)
    expect(unserved(record, tpot, { ...everything, classIndex: 1 })).toBeUndefined()
  })

  it('keeps the margin, and a class without requests keeps what it is promised', () => {
    const record = simulate(makeRequests([[0, 1, 0]]), rules(1, { profile: one }))
    const target: Target = { measure: 'latency', percentile: 95, seconds: 1.05 }
    expect(holds(readTarget(record, promise(target), everything, 0), target, 0)).toBe(true)
    expect(holds(readTarget(record, promise(target), everything, 0.1), target, 0.1)).toBe(false)
    const none = readTarget(record, promise(target), { ...everything, classIndex: 1 }, 0)
    expect(none).toEqual({ value: undefined, misses: 0, considered: 0 })
    expect(holds(none, target, 0)).toBe(true)
  })
})

describe('certainty', () => {
  const target: Target = { measure: 'ttft', percentile: 95, seconds: 1 }

  it.each([
    [[0.5, 0.52, 0.51], 'meets'],
    [[0.8, 1.1, 0.9], 'likely'],
    [[1.2, 1.1, 1.3], 'misses'],
    [[0.5, Infinity, 0.5], 'misses'],
    [[undefined], 'meets'],
  ] as const)('of %j is %s', (values, expected) => {
    expect(certainty(values, target, 0).certainty).toBe(expected)
  })

  it('rests on Student’s interval: 95 % of intervals over normal samples hold the mean', () => {
    expect(interval95([1, 2, 3])?.high).toBeCloseTo(2 + 4.303 / Math.sqrt(3), 6)
    expect(interval95([])).toBeUndefined()
    expect(interval95([4])).toEqual({ mean: 4, low: 4, high: 4, runs: 1 })
  })
})
