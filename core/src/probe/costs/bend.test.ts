import { describe, expect, it } from 'vitest'
import { measuredRows, type TestLoad } from '../../../test/measuredRows.ts'
import { mean } from '../../measure/percentile.ts'
import { RandomStream } from '../../random/stream.ts'
import { bendSteps } from './bend.ts'
import { stepDraws } from '../../service/measured/drawnSteps.ts'
import { pressedPerSecond } from './dryProbe.ts'
import { fitSteps, type FittedSteps } from './fitSteps.ts'
import { replay } from './replay.ts'
import { specOfSteps } from '../../service/measured/stepCoefficients.ts'

const served = { replicas: 1, sequences: 8, prompts: 'whole' as const }
const sizes: [number, number][] = [
  [150, 30],
  [900, 45],
]
const steps: TestLoad[] = [1, 4, 16].map((clients) => ({ part: `${clients} at once`, clients, requestsEach: 12, sizes }))
const TRUTH = [0.006, 9e-5, 0.014, 2e-4, 1.2e-7, 0.002]

describe('so many callers at once, through the engine', () => {
  it('one after another take what each takes alone, and the way between them', () => {
    const asking = Array.from({ length: 10 }, (_, i) => ({ input: sizes[i % 2][0], output: sizes[i % 2][1] }))
    const { end } = replay(
      asking.map((a, i) => ({ seconds: 100 * i, ...a })),
      specOfSteps(TRUTH),
      served,
    )
    const alone = end.reduce((sum, e, i) => sum + e - 100 * i, 0)
    expect(pressedPerSecond(TRUTH, served, asking, 1)).toBeCloseTo(10 / (alone + 10 * TRUTH[5]), 9)
  })

  it('bend where a replica has no more room: beyond its places nothing is answered faster', () => {
    const fitted = fitSteps(measuredRows(TRUTH, served, steps, 0, 3), served)!
    const bend = bendSteps(measuredRows(TRUTH, served, steps, 0, 3), fitted)
    expect(bend.map((b) => b.clients)).toEqual([1, 2, 4, 8, 16, 32, 64])
    expect(bend.filter((b) => b.measuredPerSecond !== undefined).map((b) => b.clients)).toEqual([1, 4, 16])
    // Callers of the probe come again a moment later than those of a dry one.
    for (const b of bend) if (b.measuredPerSecond !== undefined) expect(b.predictedPerSecond / b.measuredPerSecond).toBeCloseTo(1, 1)
    const at = (clients: number) => bend.find((b) => b.clients === clients)!.predictedPerSecond
    expect(at(8)).toBeGreaterThan(3 * at(1))
    expect(at(32) / at(16)).toBeLessThan(1.1)
  })

  it('is as broad as the step costs are in doubt, and nothing where nobody came at once', () => {
    const rows = measuredRows(TRUTH, served, steps, 8e-4, 4)
    const bend = bendSteps(rows, fitSteps(rows, served)!)
    for (const { band, predictedPerSecond } of bend) {
      expect(band!.low).toBeLessThan(band!.high)
      expect(band!.low / predictedPerSecond).toBeGreaterThan(0.9)
      expect(band!.high / predictedPerSecond).toBeLessThan(1.1)
    }
    expect(
      bendSteps(measuredRows(TRUTH, served, [{ part: '2 a second', perSecond: 2, requests: 40, sizes }], 0, 5), fitSteps(rows, served)!),
    ).toEqual([])
  })
})

describe('draws of step costs', () => {
  it('have the spread of the intervals, and their correlation', () => {
    const fitted = {
      values: [10, 20, 5],
      intervals: [{ low: 6, high: 14 }, { low: 10, high: 30 }, undefined],
      correlation: [
        [1, -0.8, 0],
        [-0.8, 1, 0],
        [0, 0, 1],
      ],
    } as unknown as FittedSteps // nothing else is read
    const draw = stepDraws(fitted, new RandomStream(5, 'draws'))!
    const drawn = Array.from({ length: 20_000 }, draw)
    const column = (c: number) => Float64Array.from(drawn, (d) => d[c])
    const moments = (c: number) => {
      const [values, middle] = [column(c), mean(column(c))!]
      return { middle, spread: Math.sqrt(mean(values.map((v) => (v - middle) ** 2))!) }
    }
    const [a, b] = [moments(0), moments(1)]
    expect(a.middle).toBeCloseTo(10, 1)
    expect(a.spread / (4 / 1.96)).toBeCloseTo(1, 1)
    expect(b.spread / (10 / 1.96)).toBeCloseTo(1, 1)
    expect(column(2).every((v) => v === 5)).toBe(true)
    const together = mean(column(0).map((v, i) => ((v - a.middle) * (drawn[i][1] - b.middle)) / (a.spread * b.spread)))!
    expect(together).toBeCloseTo(-0.8, 1)
    expect(stepDraws({ ...fitted, intervals: [undefined, undefined, undefined] }, new RandomStream(5, 'draws'))).toBeUndefined()
  })
})
