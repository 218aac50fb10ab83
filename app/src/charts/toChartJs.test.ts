// @vitest-environment happy-dom
import { scaleLinear, scaleLog } from 'd3-scale'
import { describe, expect, it } from 'vitest'
import type { Axis, Series } from './spec.ts'
import { toChartJs } from './toChartJs.ts'

const axis = (scale: Axis['scale'], more: Partial<Axis> = {}): Axis => ({ scale, ticks: [{ at: 1, label: 'one' }], ...more })
const made = (series: Series[], x = axis(scaleLog([1, 100], [40, 180]), { log: true }), y = axis(scaleLinear([0, 10], [90, 10]))) =>
  toChartJs({ x, y, series, marks: [], width: 200, height: 100 })

/** What the library is told of an axis, as far as it matters here. */
interface Told {
  type: string
  min: number
  max: number
  reverse: boolean
  afterFit: (scale: { width: number; height: number }) => void
  afterBuildTicks: (scale: { ticks: { value: number }[] }) => void
  ticks: { callback: (value: number) => string }
}
const told = (options: unknown, side: 'x' | 'y') => (options as { scales: Record<string, Told> }).scales[side]

describe('a picture in the words of the chart library', () => {
  it('lies exactly where its scales say, so that what is laid over it fits', () => {
    const { options } = made([])
    expect(options?.layout).toEqual({ autoPadding: false, padding: { left: 0, top: 10, right: 20, bottom: 0 } })
    const room = { width: 0, height: 0 }
    told(options, 'x').afterFit(room)
    told(options, 'y').afterFit(room)
    expect(room).toMatchObject({ width: 40, height: 10, paddingTop: 0, paddingRight: 0 })
  })

  it('has the marks that are asked for and their words, and an axis that runs down where its scale does', () => {
    const down = axis(scaleLinear([5, 0], [90, 10]))
    const { options } = made([], undefined, down)
    expect(told(options, 'x')).toMatchObject({ type: 'logarithmic', min: 1, max: 100, reverse: false })
    expect(told(options, 'y')).toMatchObject({ type: 'linear', min: 0, max: 5, reverse: true })
    const scale = { ticks: [{ value: 77 }] }
    told(options, 'x').afterBuildTicks(scale)
    expect(scale.ticks).toEqual([{ value: 1 }])
    expect([1, 2].map((v) => told(options, 'x').ticks.callback(v))).toEqual(['one', ''])
  })

  it('draws series in their order: areas to the line before, bars from value to value', () => {
    const points = [
      { x: 1, y: 2 },
      { x: 10, y: 3 },
    ]
    const { data, options } = made([
      { kind: 'line', points, colour: '#112233' },
      { kind: 'line', points, colour: '#112233', fill: { to: 'line before', ink: { colour: '#445566', alpha: 0.5 } } },
      { kind: 'bars', bars: [{ from: 1, until: 4, at: 2 }], thickness: 9, ink: { colour: '#778899' } },
    ])
    expect(data.datasets).toMatchObject([
      { type: 'line', data: points, fill: false, borderColor: '#112233' },
      { type: 'line', fill: { target: '-1', above: '#44556680', below: '#44556680' } },
      { type: 'bar', data: [{ x: [1, 4], y: 2 }], barThickness: 9, backgroundColor: '#778899' },
    ])
    expect(data.datasets.map((d) => d.order)).toEqual([3, 2, 1])
    expect(options?.indexAxis).toBe('y')
  })
})
