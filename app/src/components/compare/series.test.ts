import { describe, expect, it } from 'vitest'
import { compareRows } from './series.ts'
import type { PinnedRun } from '../../worker/runViews.ts'

describe('lines that are compared', () => {
  it('show a promise, who waits, replicas and money at the middle of each piece', () => {
    const run: PinnedRun = {
      perHour: 2,
      paid: { seconds: [0, 50], values: [1, 3] },
      ready: { seconds: [0], values: [2] },
      promises: [],
      timeline: {
        fromSeconds: 0,
        untilSeconds: 100,
        pieces: 2,
        arrivals: [],
        waiting: Float32Array.of(0, 4),
        inService: new Float32Array(0),
        boundWaiting: new Float32Array(0),
        lost: new Float32Array(2),
        readings: [{ classIndex: 0, measure: 'ttft', percentile: 95, limitSeconds: 0.6, values: Float64Array.of(0.2, Infinity) }],
      },
    }
    const rows = compareRows([run, run], 0, 'EUR', 100)
    expect(rows.map((r) => [r.unit, r.series[1]])).toEqual([
      ['s', [0.2, Infinity]],
      ['requests', [0, 4]],
      ['replicas', [2, 2]],
      ['EUR/h', [1, 3]],
    ])
    expect(rows[0].limit).toBe(0.6)
    expect(compareRows([], 0, 'EUR', 100)).toEqual([])
  })
})
