// @vitest-environment happy-dom
import { scaleLinear, scaleLog } from 'd3-scale'
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { Chart } from './chartJs.ts'
import { HeldChart } from './heldChart.ts'
import { bareAxis, pixelAxis, type Axis, type BarSeries, type Point, type PointSeries } from './spec.ts'

/** A canvas whose pen draws nothing, and whose letters are seven pixels wide. */
function blindCanvas(width: number, height: number): HTMLCanvasElement {
  const canvas = Object.assign(document.createElement('canvas'), { width, height })
  const pen = new Proxy({ canvas } as Record<string | symbol, unknown>, {
    get: (kept, name) => kept[name] ?? (name === 'measureText' ? (words: string) => ({ width: 7 * words.length }) : () => undefined),
    set: (kept, name, value) => Reflect.set(kept, name, value),
  })
  return Object.assign(canvas, { getContext: () => pen })
}

const [width, height] = [400, 200]
const POINTS: Point[] = [
  { x: 1, y: 0 },
  { x: 30, y: 7 },
  { x: 100, y: 10 },
]
const dots = (points: readonly Point[], radius = 5): PointSeries => ({ kind: 'points', points, colour: '#112233', shape: 'disc', radius })
const room = fc.record({
  left: fc.integer({ min: 0, max: 90 }),
  right: fc.integer({ min: 0, max: 30 }),
  top: fc.integer({ min: 0, max: 20 }),
  bottom: fc.integer({ min: 0, max: 40 }),
})

describe('a chart that is held', () => {
  it('draws every point where the scales of its picture say, however large it is, however long the labels are, and at every time of drawing', () => {
    fc.assert(
      fc.property(
        room,
        fc.boolean(),
        fc.integer({ min: 2, max: 20 }),
        fc.integer({ min: 0, max: 40 }),
        ({ left, right, top, bottom }, log, radius, letters) => {
          const along = (log ? scaleLog : scaleLinear)([1, 100], [left, width - right])
          const up = scaleLinear([0, 10], [height - bottom, top])
          const axis = (scale: Axis['scale'], isLog: boolean): Axis => ({
            scale,
            log: isLog,
            ticks: scale.domain().map((at) => ({ at, label: 'm'.repeat(letters) })),
          })
          const held = new HeldChart(blindCanvas(width, height))
          for (const _ of ['first', 'second', 'third']) {
            held.show({ x: axis(along, log), y: axis(up, false), series: [dots(POINTS, radius)], marks: [], width, height })
            held.drawn(0).forEach(({ x, y }, i) => {
              expect(x).toBeCloseTo(along(POINTS[i].x), 6)
              expect(y).toBeCloseTo(up(POINTS[i].y), 6)
            })
            expect(held.drawn(0)).toHaveLength(POINTS.length)
          }
          held.end()
        },
      ),
      { numRuns: 40 },
    )
  })

  it('is not made anew when its data, its size or the number of its series change, nor are the points that stay', () => {
    const before = Object.keys(Chart.instances).length
    const held = new HeldChart(blindCanvas(width, height))
    const x = bareAxis(scaleLinear([0, 100], [0, width]))
    const y = bareAxis(scaleLinear([0, 10], [height, 0]))
    held.show({ x, y, series: [dots(POINTS)], marks: [], width, height })
    const first = [...held.drawn(0)]
    held.show({ x, y, series: [dots(POINTS.map((p) => ({ ...p, y: 3 }))), dots(POINTS)], marks: [], width: 300, height })
    held.show({ x, y, series: [dots(POINTS.slice(0, 2), 9)], marks: [], width: 300, height })
    expect(Object.keys(Chart.instances)).toHaveLength(before + 1)
    expect(held.drawn(0)).toHaveLength(2)
    held.drawn(0).forEach((point, i) => expect(point).toBe(first[i]))
    held.end()
    expect(Object.keys(Chart.instances)).toHaveLength(before)
  })

  it('draws each of its bars with its own ink, however many series there were before', () => {
    const names = ['#110000', '#220000', '#330000', '#440000', '#550000', '#660000']
    const axis = bareAxis(scaleLinear([0, 10], [0, width]))
    const bars = (colours: readonly string[]): BarSeries[] =>
      colours.map((colour, i) => ({ kind: 'bars', thickness: 9, ink: { colour }, bars: [{ from: i, until: i + 1, at: 20 * (i + 1) }] }))
    fc.assert(
      fc.property(fc.array(fc.shuffledSubarray(names, { minLength: 1 }), { minLength: 2, maxLength: 5 }), (shows) => {
        const held = new HeldChart(blindCanvas(width, height))
        for (const colours of shows) {
          held.show({ x: axis, y: pixelAxis(height), series: bars(colours), marks: [], width, height })
          expect(colours.map((_, i) => held.drawn(i).map((e) => (e.options as { backgroundColor?: string }).backgroundColor))).toEqual(
            colours.map((c) => [c]),
          )
        }
        held.end()
      }),
    )
  })
})
