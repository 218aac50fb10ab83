import { describe, expect, it } from 'vitest'
import { batchProfile, rules } from '../../test/makeProfiles.ts'
import { makeRequests } from '../../test/makeRequests.ts'
import { simulate } from '../engine/simulate.ts'
import { timeline } from './timeline.ts'

/** One server, four seconds a request; arrivals at 0, 1 and 9 s: services 0–4, 4–8 and 9–13. */
const record = simulate(
  makeRequests([
    [0, 1, 0],
    [1, 1, 0],
    [9, 1, 0],
  ]),
  rules(1, { profile: batchProfile({ maxBatch: 1, baseSeconds: 4, secondsPerWorkUnit: 0 }), horizonSeconds: 100 }),
)
const target = { classIndex: 0, target: { measure: 'latency' as const, percentile: 95, seconds: 5 } }

describe('timeline', () => {
  it('divides waiting and service among the pieces by the time spent in each', () => {
    const t = timeline(record, 1, 1, [target], 0, 15, 3)
    expect([...t.waiting].map((v) => v * 5)).toEqual([expect.closeTo(3, 5), 0, 0])
    expect([...t.inService].map((v) => v * 5)).toEqual([expect.closeTo(5, 5), expect.closeTo(4, 5), expect.closeTo(3, 5)])
    expect([...t.arrivals[0]].map((v) => v * 5)).toEqual([expect.closeTo(2, 5), expect.closeTo(1, 5), 0])
    expect([...t.readings[0].values]).toEqual([7, 4, NaN])
  })

  it('sees what began before and ends after the time that is looked at', () => {
    const t = timeline(record, 1, 1, [target], 2, 6, 2)
    expect([...t.inService]).toEqual([1, 1])
    expect([...t.waiting]).toEqual([1, 0])
    expect(t.arrivals[0].every((v) => v === 0)).toBe(true)
  })

  it('counts the lost where they arrived, with a percentile that is never reached', () => {
    const lossy = simulate(
      makeRequests([
        [0, 1, 0],
        [1, 1, 0],
      ]),
      rules(1, { profile: batchProfile({ maxBatch: 1, baseSeconds: 4 }), queueLimit: 0, horizonSeconds: 20 }),
    )
    const t = timeline(lossy, 1, 1, [target], 0, 10, 1)
    expect(t.lost[0]).toBeCloseTo(0.1, 6)
    expect(t.readings[0].values[0]).toBe(Infinity)
  })
})
