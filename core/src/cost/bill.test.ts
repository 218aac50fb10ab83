import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { bought, livingFleet, scripted } from '../../test/fleets.ts'
import { makeRequests } from '../../test/makeRequests.ts'
import { batchProfile, rules } from '../../test/makeProfiles.ts'
import { simulate } from '../engine/simulate.ts'
import type { LifeRecord } from '../life/startRules.ts'
import { bestCommitted, billOf, groupsWithin, perHourByCommitted, steadyPerHour } from './bill.ts'
import { purchaseName } from '../explain/purchaseWords.ts'
import { purchase } from './purchase.ts'

const life = (nodes: [number, number, boolean?][], more: Partial<LifeRecord> = {}): LifeRecord => ({
  events: [],
  stopped: [],
  fetched: [],
  wanted: [],
  readings: { seconds: [], values: [] },
  nodes: nodes.map(([from, until, spot]) => ({ from, until, spot: spot ?? false })),
  ...more,
})
const PRICES = { committedPerHour: 1.2, spotPerHour: 0.6 }

describe('what is bought', () => {
  it('all the time, by hand: 5 machines on demand, committed, on spot, and the first half of them safe at the committed price', () => {
    expect((['on-demand', 'committed', 'spot', 'mixed'] as const).map((kind) => steadyPerHour(bought(kind, PRICES), 5))).toEqual([
      10,
      6,
      3,
      expect.closeTo(3 * 1.2 + 2 * 0.6, 12),
    ])
    expect(steadyPerHour(bought('on-demand', { storagePerHour: 0.01 }), 3)).toBeCloseTo(6.03, 12)
    expect(
      (['on-demand', 'committed', 'spot', 'mixed'] as const).map((kind) =>
        purchaseName(purchase(kind, 0.25)).replaceAll(/\u00a0|\u202f/g, ' '),
      ),
    ).toEqual(['on demand', 'committed', 'spot', 'spot but for 25 %'])
  })

  it('as many as an amount is enough for: the same as counting up', () => {
    fc.assert(
      fc.property(
        fc.constantFrom('on-demand', 'committed', 'spot', 'mixed'),
        fc.double({ min: 0, max: 60, noNaN: true }),
        fc.integer({ min: 0, max: 40 }),
        (kind, perHour, most) => {
          const how = bought(kind, PRICES)
          let n = 0
          while (n < most && steadyPerHour(how, n + 1) <= perHour + 1e-9) n++
          expect(groupsWithin(how, perHour, most)).toBe(n)
        },
      ),
    )
  })

  it('a bill by hand: two hours, one machine all of it, a second for 90 minutes of it, a third on spot for 10 minutes', () => {
    const run = life(
      [
        [0, 7200],
        [1000, 6400],
        [2000, 2590, true],
      ],
      { stopped: [{ from: 6400, until: 7200 }], fetched: [{ seconds: 1000, bytes: 30e9 }] },
    )
    const how = bought('mixed', { ...PRICES, storagePerHour: 0.05, transferPerByte: 0.01 / 1e9, billingStepSeconds: 60 })
    const disks = ((7200 + 5400 + 590 + 800) * 0.05) / 3600
    expect(billOf(how, run, 7200).total).toBeCloseTo(2 * 2 + 1.5 * 2 + 0.6 / 6 + disks + 0.3, 9)
    // The first fills the committed place from the start; the second is on demand all its life.
    expect(billOf(how, run, 7200, 1).total).toBeCloseTo(1.2 * 2 + 1.5 * 2 + 0.6 / 6 + disks + 0.3, 9)
    expect(billOf(how, run, 7200, 3).total).toBeCloseTo(3.6 * 2 + 0.6 / 6 + disks + 0.3, 9)
    const byCommitted = perHourByCommitted(how, run, 7200)
    expect(byCommitted).toHaveLength(3)
    expect(bestCommitted([byCommitted], how.prices)).toEqual({
      committedGroups: 2,
      perHour: byCommitted[2],
      perHourByDraw: [byCommitted[2]],
    })
  })

  it('one number that is committed to for several runs is the best of all, tried one after the other', () => {
    const runs = fc.array(fc.array(fc.tuple(fc.integer({ min: 0, max: 3000 }), fc.integer({ min: 1, max: 3600 })), { maxLength: 8 }), {
      minLength: 1,
      maxLength: 3,
    })
    fc.assert(
      fc.property(runs, fc.double({ min: 0.1, max: 2.5, noNaN: true }), (lists, committedPerHour) => {
        const how = bought('committed', { committedPerHour })
        const lives = lists.map((list) =>
          life(list.map(([from, length]): [number, number] => [from, Math.min(3600, from + length)]).sort((a, b) => a[0] - b[0])),
        )
        const best = bestCommitted(
          lives.map((l) => perHourByCommitted(how, l, 3600)),
          how.prices,
        )
        const mean = (c: number) => lives.reduce((sum, l) => sum + billOf(how, l, 3600, c).total, 0) / lives.length
        expect(best.perHour).toBeCloseTo(Math.min(...Array.from({ length: 10 }, (_, c) => mean(c))), 9)
        expect(mean(best.committedGroups)).toBeCloseTo(best.perHour, 9)
      }),
      { numRuns: 200, seed: 4 },
    )
  })
})

/** A fleet of so many replicas for a long time, nothing to serve. */
function quietRun(seconds: number, replicas: number, parts: Parameters<typeof livingFleet>[0]): LifeRecord {
  const fleet = livingFleet({ controller: scripted([[0, replicas]], replicas), ...parts })
  const requests = makeRequests([])
  simulate(
    requests,
    rules(1, { profile: batchProfile({ maxBatch: 1, baseSeconds: 1, secondsPerWorkUnit: 0 }), horizonSeconds: seconds, life: () => fleet }),
    {},
  )
  return fleet.record
}

describe('machines that may be taken away', () => {
  const losses = { spotMeanSeconds: 7200, spotNoticeSeconds: 0 }

  it('are lost as often as a renewal process with that mean and the provisioning time, within 99 %', () => {
    const seconds = 3_000_000
    const record = quietRun(seconds, 20, { losses, nodes: { safeNodes: 0 }, start: { nodeSeconds: 600 } })
    const lost = record.nodes.filter((n) => n.until < seconds).length
    // A life is the provisioning and an exponential time: rate 1/(600 + 7200) each, variance of the count about rate · (7200/7800)² a life.
    const expected = (20 * seconds) / 7800
    expect(Math.abs(lost - expected)).toBeLessThan(2.576 * Math.sqrt(expected) + 20)
  })

  it('are replaced at once, so that no fewer are paid than are wanted; what is safe stays', () => {
    for (const safeNodes of [0, 3]) {
      const record = quietRun(200_000, 5, { losses, nodes: { safeNodes }, start: { nodeSeconds: 60 } })
      const there = record.nodes.reduce((sum, n) => sum + n.until - n.from, 0)
      expect(there).toBeGreaterThanOrEqual(5 * 200_000 - 1e-6)
      expect(record.nodes.filter((n) => !n.spot && n.until === 200_000)).toHaveLength(safeNodes)
      expect(record.nodes.filter((n) => !n.spot)).toHaveLength(safeNodes)
    }
  })

  it('told before, another comes while they finish: there are more for the notice', () => {
    const record = quietRun(200_000, 4, {
      losses: { ...losses, spotNoticeSeconds: 300 },
      nodes: { safeNodes: 0 },
      start: { nodeSeconds: 60 },
    })
    const lost = record.nodes.filter((n) => n.until < 200_000).length
    const there = record.nodes.reduce((sum, n) => sum + n.until - n.from, 0)
    // Whoever is empty is given back after its idle time of 60 s instead of being kept for the notice.
    expect(lost).toBeGreaterThan(50)
    expect(there).toBeGreaterThan(4 * 200_000 + lost * 50)
    expect(there).toBeLessThan(4 * 200_000 + (lost + 4) * 61)
  })
})

describe('machines that are stopped', () => {
  it('come back in the resume time with what they had, and only their disks are paid meanwhile', () => {
    const wishes = [
      [0, 1],
      [1000, 0],
      [3000, 1],
    ] as [number, number][]
    const run = (stops: boolean) => {
      const fleet = livingFleet({ controller: scripted(wishes), nodes: { stops }, start: { resumeSeconds: 25 } })
      simulate(
        makeRequests([]),
        rules(1, {
          profile: batchProfile({ maxBatch: 1, baseSeconds: 1, secondsPerWorkUnit: 0 }),
          horizonSeconds: 4000,
          life: () => fleet,
        }),
        {},
      )
      return fleet.record
    }
    const [again, back] = [run(false), run(true)]
    const ready = (r: LifeRecord) => r.events.filter((e) => e.stage === 7).map((e) => e.seconds)
    // 100 s machine, 10 s image, 20 s weights, 5 s load, 15 s warm-up; back: 25 s, the weights from the store again.
    expect(ready(again)).toEqual([150, 3150])
    expect(ready(back)).toEqual([150, 3065])
    expect(back.stopped).toEqual([{ from: 1060, until: 3000 }])
    expect(again.stopped).toEqual([])
    expect([again, back].map((r) => r.fetched.map((f) => f.bytes))).toEqual([[10e9, 20e9], [20e9]])
  })
})
