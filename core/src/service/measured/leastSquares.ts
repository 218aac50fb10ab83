import { square } from '../../arithmetic/sameBits.ts'
import { fcnnls } from 'ml-fcnnls'
import { inverse, Matrix } from 'ml-matrix'
import { student95 } from '../../random/studentT.ts'

/** One measured value as a sum of coefficient × feature, with the weight of its squared error. */
export interface Equation {
  features: number[]
  value: number
  weight: number
}

export interface Estimate {
  value: number
  /** 95 % interval, cut at 0; undefined when there are no figures to spare, or the value is held at 0 */
  low: number | undefined
  high: number | undefined
}

export interface Solution {
  estimates: Estimate[]
  /** Σ weight·(value − fit)² */
  squaredError: number
  /** equations beyond the coefficients above 0 */
  degreesOfFreedom: number
}

/** What coefficients make of the features of an equation. */
export const fittedValue = ({ features }: Pick<Equation, 'features'>, values: readonly number[]): number =>
  features.reduce((sum, f, c) => sum + f * values[c], 0)

/**
 * Non-negative least squares: the coefficients ≥ 0 with the smallest weighted squared error. Intervals are those of
 * ordinary least squares over the coefficients that are above 0, with Student's t.
 */
export function nonNegative(equations: readonly Equation[]): Solution {
  const columns = equations[0].features.length
  const roots = equations.map((e) => Math.sqrt(e.weight))
  const raw = equations.map((e, i) => e.features.map((f) => f * roots[i]))
  // Columns of like size: seconds per squared token beside seconds would drown in the solver's tolerance.
  const scale = Array.from({ length: columns }, (_, c) => Math.sqrt(raw.reduce((sum, row) => sum + square(row[c]), 0)) || 1)
  const scaled = raw.map((row) => row.map((f, c) => f / scale[c]))
  const right = equations.map((e, i) => e.value * roots[i])
  const size = Math.sqrt(right.reduce((sum, v) => sum + square(v), 0)) || 1
  const solved = fcnnls(
    scaled,
    right.map((v) => [v / size]),
    { maxIterations: 200, gradientTolerance: 1e-9 },
  ).K.getColumn(0)
  const active = solved.flatMap((v, c) => (v > 1e-12 ? [c] : []))
  const errors = right.map((v, i) => v - size * scaled[i].reduce((sum, f, c) => sum + f * solved[c], 0))
  const squaredError = errors.reduce((sum, e) => sum + square(e), 0)
  const degreesOfFreedom = equations.length - active.length
  const spread = spreads(scaled, active, squaredError, degreesOfFreedom)
  const estimates = solved.map((v, c): Estimate => {
    const place = active.indexOf(c)
    const value = place < 0 ? 0 : (v * size) / scale[c]
    const half = place < 0 || !spread ? undefined : spread[place] / scale[c]
    return { value, low: half === undefined ? undefined : Math.max(0, value - half), high: half === undefined ? undefined : value + half }
  })
  return { estimates, squaredError, degreesOfFreedom }
}

/** Half-widths of the 95 % intervals of the active coefficients; undefined when none can be given. */
function spreads(
  rows: readonly number[][],
  active: readonly number[],
  squaredError: number,
  degreesOfFreedom: number,
): number[] | undefined {
  if (degreesOfFreedom < 1 || active.length === 0) return undefined
  const x = new Matrix(rows.map((row) => active.map((c) => row[c])))
  const covariance = inverse(x.transpose().mmul(x), true)
  const variance = squaredError / degreesOfFreedom
  return active.map((_, i) => student95(degreesOfFreedom) * Math.sqrt(Math.max(0, covariance.get(i, i) * variance)))
}
