import fc from 'fast-check'
import { expect, it } from 'vitest'
import { skerrySound } from '../../../examples/make/skerrySound.ts'
import { makeRequests } from '../../test/makeRequests.ts'
import { batchProfile, rules } from '../../test/makeProfiles.ts'
import { simulate } from '../engine/simulate.ts'
import { allDistributions, binned, distribution, FIRST_EDGE_SECONDS } from './distribution.ts'
import { percentile } from './percentile.ts'

it('every value lies in the one bin that holds it, and bins have no gap', () => {
  const value = fc.oneof(fc.constant(0), fc.constantFrom(1e-5, 1e-3, 0.1, 1, 10, 1e6, 1e8), fc.double({ min: 0, max: 1e5, noNaN: true }))
  fc.assert(
    fc.property(fc.array(value), (list) => {
      const sorted = Float64Array.from(list).sort()
      const { belowFirst, bins } = binned(sorted)
      expect(belowFirst).toBe(sorted.filter((v) => v < FIRST_EDGE_SECONDS).length)
      for (const { fromSeconds, untilSeconds, requests } of bins)
        expect(requests).toBe(sorted.filter((v) => v >= fromSeconds && v < untilSeconds).length)
      expect(bins.slice(1).map((b) => b.fromSeconds)).toEqual(bins.slice(0, -1).map((b) => b.untilSeconds))
      expect(bins.reduce((sum, b) => sum + b.requests, belowFirst)).toBe(sorted.length)
      if (bins.length > 0) expect(Math.min(bins[0].requests, bins[bins.length - 1].requests)).toBeGreaterThan(0)
      // A percentile lies in the bin in which that share is reached.
      const p95 = percentile(sorted, 0.95)
      const at = bins.findIndex(
        (_, i) => belowFirst + bins.slice(0, i + 1).reduce((sum, b) => sum + b.requests, 0) >= 0.95 * sorted.length - 1e-9,
      )
      if (p95 !== undefined && p95 >= FIRST_EDGE_SECONDS) expect(p95 >= bins[at].fromSeconds && p95 < bins[at].untilSeconds).toBe(true)
    }),
    { seed: 1 },
  )
})

it('by hand: of five at once one waits not, three 1, 2 and 3 s, and one is turned away and has no time', () => {
  const one = batchProfile({ maxBatch: 1, baseSeconds: 1, secondsPerWorkUnit: 0 })
  const times = [0, 0, 0, 0, 0, 50].map((at): [number, number, number] => [at, 1, 0])
  const record = simulate(makeRequests(times), rules(1, { profile: one, queueLimit: 3 }))
  const plan = { ...skerrySound, horizon: { ...skerrySound.horizon, seconds: 100, warmupSeconds: 0 } }
  const wait = distribution(plan, record, 0, 'wait')
  expect(wait).toMatchObject({ measure: 'wait', belowFirst: 2, lost: 1 })
  expect(wait.bins.filter((b) => b.requests > 0).map((b) => [b.fromSeconds, b.requests])).toEqual([
    [1, 1],
    [expect.closeTo(1.9953, 4), 1],
    [expect.closeTo(2.8184, 4), 1],
  ])
  const later = distribution(plan, record, 0, 'latency', { fromSeconds: 40, untilSeconds: 60 })
  expect(later).toMatchObject({ measure: 'latency', lost: 0, spread: { count: 1, p50: 1 } })
  // Nobody came: said with no data rather than left out.
  expect(
    allDistributions({ ...plan, classes: plan.classes.slice(0, 1) }, record, plan.classes[0].service, {
      fromSeconds: 60,
      untilSeconds: 70,
    }),
  ).toMatchObject([{ measure: 'latency', bins: [], spread: { count: 0 } }])
})
