import { square } from '../../arithmetic/sameBits.ts'
import type { MeasurementRow, ProfileSpec } from '../../plan/schema.ts'
import type { Coefficient, Residual } from './calibration.ts'
import { oneSettingOf } from './oneSetting.ts'
import { nonNegative, type Estimate } from './leastSquares.ts'

export interface WorkFit {
  spec: ProfileSpec
  coefficients: Coefficient[]
  residuals: Residual[]
  degreesOfFreedom: number
  figures: number
}

/**
 * Fits the costs of fixed work to latency = a + b·n + w·(c + d·n), n items of work w in a batch or requests side by side.
 * Of batches that is base[n] and each unit's seconds[n]; side by side the growth with n is what they slow each other.
 *
 * @returns undefined when no row has work and a latency
 */
export function fitWork(rows: readonly MeasurementRow[], kind: 'batch' | 'shared'): WorkFit | undefined {
  const used = rows.flatMap((r, index) =>
    r.latencySeconds === undefined ? [] : [{ index, n: r.concurrency, w: r.work ?? 0, seconds: r.latencySeconds, count: r.count ?? 1 }],
  )
  if (used.length === 0) return undefined
  const others = (n: number) => (kind === 'batch' ? n : n - 1)
  const oneSetting = oneSettingOf({ rows: [...rows] }) !== undefined
  // One setting can not tell coefficients apart: every unit of every item takes its part, or all is the same for whatever is in it.
  const featuresOf = (n: number, w: number) =>
    !oneSetting ? [1, others(n), w, w * others(n)] : w > 0 ? (kind === 'batch' ? [0, 0, 0, w * n] : [0, 0, w, 0]) : [1, 0, 0, 0]
  const equations = used.map(({ n, w, seconds, count }) => ({
    features: featuresOf(n, w),
    value: seconds,
    weight: count / square(seconds),
  }))
  const { estimates, degreesOfFreedom } = nonNegative(equations)
  const values = estimates.map((e) => e.value)
  const residuals = used.map(({ index, seconds }, i): Residual => ({
    row: index,
    figure: 'latency',
    measuredSeconds: seconds,
    fittedSeconds: equations[i].features.reduce((sum, f, c) => sum + f * values[c], 0),
  }))
  const meanWork = used.reduce((sum, r) => sum + r.w, 0) / used.length
  return { residuals, degreesOfFreedom, figures: used.length, ...(kind === 'batch' ? batches(estimates) : sideBySide(estimates, meanWork)) }
}

function batches(e: readonly Estimate[]): Pick<WorkFit, 'spec' | 'coefficients'> {
  const line = (i: number) => ({ base: e[i].value, perSequence: e[i + 1].value })
  return {
    spec: { kind: 'iterative', fixedSeconds: line(0), stepSeconds: line(2) },
    coefficients: [
      { symbol: 'B0', meaning: 'seconds of a batch, whatever is in it', ...e[0] },
      { symbol: 'B0′', meaning: 'seconds for each item of a batch', ...e[1] },
      { symbol: 'B1', meaning: 'seconds for each work unit of a batch', ...e[2] },
      { symbol: 'B1′', meaning: 'seconds for each work unit of each item', ...e[3] },
    ],
  }
}

function sideBySide(e: readonly Estimate[], meanWork: number): Pick<WorkFit, 'spec' | 'coefficients'> {
  const alone = e[0].value + e[2].value * meanWork
  const slowdown = alone > 0 ? (e[1].value + e[3].value * meanWork) / alone : 0
  return {
    spec: { kind: 'shared', baseSeconds: e[0].value, secondsPerWorkUnit: e[2].value, slowdown },
    coefficients: [
      { symbol: 'D0', meaning: 'seconds of a request alone, whatever its work', ...e[0] },
      { symbol: 'D1', meaning: 'seconds for each work unit alone', ...e[2] },
      {
        symbol: 's',
        meaning: 'share by which each further request slows the others, at the mean work',
        value: slowdown,
        low: undefined,
        high: undefined,
      },
    ],
  }
}
