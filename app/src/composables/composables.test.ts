// @vitest-environment happy-dom
import { describe, expect, it } from 'vitest'
import type { Timeline } from '@sandclock/core'
import { nextTick, ref, watch } from 'vue'
import { timelineRows } from './timelineRows.ts'
import { timeTicks } from './timeTicks.ts'
import { useLater } from './useLater.ts'

const START = '2027-03-01T00:00:00Z'

describe('timeTicks', () => {
  it.each([
    [0, 7 * 86_400, ['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun']],
    [0, 86_400, ['00:00', '03:00', '06:00', '09:00', '12:00', '15:00', '18:00', '21:00']],
    [90, 2000, ['00:05', '00:10', '00:15', '00:20', '00:25', '00:30']],
  ])('from %d to %d s stand at round times', (from, until, labels) => {
    expect(timeTicks(START, from, until).map((t) => t.label)).toEqual(labels)
  })

  it('stand at round clock times when the horizon does not begin at one', () => {
    expect(timeTicks('2027-03-01T00:20:00Z', 0, 3 * 3600)[0]).toEqual({ seconds: 600, label: '00:30' })
  })
})

describe('timelineRows', () => {
  it('have a unit or a name in every header and "no data" where there is none', () => {
    const t: Timeline = {
      fromSeconds: 0,
      untilSeconds: 7200,
      pieces: 2,
      arrivals: [Float32Array.of(0.5, 0)],
      waiting: Float32Array.of(1, 0),
      inService: Float32Array.of(2, 0, 1, 0),
      boundWaiting: Float32Array.of(0, 0, 0, 0),
      lost: Float32Array.of(0, 0),
      readings: [{ classIndex: 0, measure: 'ttft', percentile: 95, limitSeconds: 1, values: Float64Array.of(0.25, NaN) }],
    }
    const { header, rows } = timelineRows(START, t, 2, 1)
    expect(header).toEqual(['time', 'arrivals /s', 'waiting', 'in service', 'lost /s', 'p95 ttft'])
    expect(rows.map((r) => r.map((cell) => cell.replace('\u00a0', ' ')))).toEqual([
      ['Mon 00:00', '0.500', '1.00', '3.00', '0', '250 ms'],
      ['Mon 01:00', '0', '0', '0', '0', 'no data'],
    ])
  })
})

describe('what may come later', () => {
  it('follows its source in a frame of its own, and skips what was replaced meanwhile', async () => {
    const source = ref('a')
    const later = useLater(source)
    const seen: unknown[] = []
    watch(later, (value) => seen.push(value), { flush: 'sync' })
    expect(later.value).toBeUndefined()
    await expect.poll(() => later.value).toBe('a')
    source.value = 'b'
    await nextTick()
    expect(later.value).toBe('a')
    source.value = 'c'
    await expect.poll(() => later.value).toBe('c')
    expect(seen).toEqual(['a', 'c'])
  })
})
