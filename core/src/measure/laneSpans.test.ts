import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { Stage } from '../life/startRules.ts'
import { laneSpans, stageAt } from './laneSpans.ts'

const row = fc.array(fc.tuple(fc.double({ min: 0.1, max: 50, noNaN: true }), fc.integer({ min: 1, max: 8 })), { maxLength: 30 })

describe('stretches of lanes', () => {
  it('say at every time what the list of them says, when nothing is merged', () => {
    fc.assert(
      fc.property(fc.array(row, { minLength: 1, maxLength: 4 }), fc.double({ min: 0, max: 300, noNaN: true }), (rows, at) => {
        const spans = rows.flatMap((list, replica) => {
          let t = 0
          return list.map(([length, stage]) => ({ replica, stage, from: t, until: (t += length) }))
        })
        const lanes = laneSpans(spans, rows.length, 0, 1e9, 0)
        rows.forEach((_, r) =>
          expect(stageAt(lanes, r, at)).toBe(spans.find((s) => s.replica === r && s.from <= at && at < s.until)?.stage ?? Stage.none),
        )
      }),
      { numRuns: 200, seed: 5 },
    )
  })

  it('merged ones cover the same time, never one that is long with another, and take the stage of the longest', () => {
    const spans = [
      [0, 2, Stage.machine],
      [2, 3, Stage.image],
      [3, 100, Stage.ready],
      [100, 101, Stage.draining],
      [400, 401, Stage.machine],
    ].map(([from, until, stage]) => ({ replica: 0, stage, from, until }))
    const lanes = laneSpans(spans, 1, 0, 1000, 10)
    expect([...lanes.stage]).toEqual([Stage.machine, Stage.ready, Stage.draining, Stage.machine])
    expect([...lanes.from]).toEqual([0, 3, 100, 400])
    expect([...lanes.until]).toEqual([3, 100, 101, 401])
    expect([...laneSpans(spans, 1, 150, 300, 10).stage]).toEqual([])
  })
})
