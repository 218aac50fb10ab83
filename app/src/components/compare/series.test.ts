import { describe, expect, it } from 'vitest'
import { compareRows, fillBetween, stepPath } from './series.ts'
import type { PinnedRun } from '../../worker/viewWorker.ts'

const x = (i: number) => i * 10
const y = (v: number) => 100 - v

describe('lines that are compared', () => {
  it('break where there is no value', () => {
    expect(stepPath([1, 2, NaN, 3], x, y)).toBe('M0.0,99.0H10.0V98.0H20.0M30.0,97.0H40.0')
  })

  it('fill only where one lies above the other, or below it', () => {
    expect(fillBetween([5, 1, NaN], [2, 2, 2], true, x, y)).toBe('M0.0,95.0H10.0V98.0H0.0Z')
    expect(fillBetween([5, 1, NaN], [2, 2, 2], false, x, y)).toBe('M10.0,99.0H20.0V98.0H10.0Z')
  })

  it('show a promise, who waits, replicas and money at the middle of each piece', () => {
    const run: PinnedRun = {
      perHour: 2, paid: { seconds: [0, 50], values: [1, 3] }, ready: { seconds: [0], values: [2] }, promises: [],
      timeline: { fromSeconds: 0, untilSeconds: 100, pieces: 2, arrivals: [], waiting: Float32Array.of(0, 4), inService: new Float32Array(0), boundWaiting: new Float32Array(0), lost: new Float32Array(2), readings: [{ classIndex: 0, measure: 'ttft', percentile: 95, limitSeconds: 0.6, values: Float64Array.of(0.2, Infinity) }] },
    }
    const rows = compareRows([run, run], 0, 'EUR', 100)
    expect(rows.map((r) => [r.unit, r.series[1]])).toEqual([['s', [0.2, Infinity]], ['requests', [0, 4]], ['replicas', [2, 2]], ['EUR/h', [1, 3]]])
    expect(rows[0].limit).toBe(0.6)
    expect(compareRows([], 0, 'EUR', 100)).toEqual([])
  })
})
