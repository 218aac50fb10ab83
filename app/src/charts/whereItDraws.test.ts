// @vitest-environment happy-dom
import { scaleLinear, scaleLog } from 'd3-scale'
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { Chart } from './chartJs.ts'
import type { Axis, Point } from './spec.ts'
import { toChartJs } from './toChartJs.ts'

/** A canvas whose pen draws nothing, and whose letters are seven pixels wide. */
function blindCanvas(width: number, height: number): HTMLCanvasElement {
  const canvas = Object.assign(document.createElement('canvas'), { width, height })
  const pen = new Proxy({ canvas } as Record<string | symbol, unknown>, {
    get: (kept, name) => kept[name] ?? (name === 'measureText' ? (words: string) => ({ width: 7 * words.length }) : () => undefined),
    set: (kept, name, value) => Reflect.set(kept, name, value),
  })
  return Object.assign(canvas, { getContext: () => pen })
}

const room = fc.record({ left: fc.integer({ min: 0, max: 90 }), right: fc.integer({ min: 0, max: 30 }), top: fc.integer({ min: 0, max: 20 }), bottom: fc.integer({ min: 0, max: 40 }) })

describe('where a chart draws', () => {
  it('every point lies where the scales of its picture say, however large it is, however long the labels are, and at every time of drawing', () => {
    fc.assert(fc.property(room, fc.boolean(), fc.integer({ min: 2, max: 20 }), fc.integer({ min: 0, max: 40 }), ({ left, right, top, bottom }, log, radius, letters) => {
      const [width, height] = [400, 200]
      const label = 'm'.repeat(letters)
      const along = (log ? scaleLog : scaleLinear)([1, 100], [left, width - right])
      const up = scaleLinear([0, 10], [height - bottom, top])
      const axis = (scale: Axis['scale'], isLog: boolean): Axis => ({ scale, log: isLog, ticks: scale.domain().map((at) => ({ at, label })) })
      const points: Point[] = [{ x: 1, y: 0 }, { x: 30, y: 7 }, { x: 100, y: 10 }]
      const spec = { x: axis(along, log), y: axis(up, false), series: [{ kind: 'points', points, colour: '#112233', shape: 'disc', radius }] as const, marks: [], width, height }
      const chart = new Chart(blindCanvas(width, height), { type: 'line', data: { datasets: [] } })
      for (const _ of ['first', 'second', 'third']) {
        const { data, options = {} } = toChartJs(spec)
        chart.data = data
        chart.options = options
        chart.update('none')
        const drawn = chart.getDatasetMeta(0).data
        points.forEach((p, i) => {
          expect(drawn[i].x).toBeCloseTo(along(p.x), 6)
          expect(drawn[i].y).toBeCloseTo(up(p.y), 6)
        })
      }
      chart.destroy()
    }), { numRuns: 40 })
  })
})
