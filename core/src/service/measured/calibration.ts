import type { Factors, OneSetting } from './oneSetting.ts'
import type { MeasurementRow, ProfileSpec } from '../../plan/schema.ts'
import type { Estimate } from './leastSquares.ts'

export interface Coefficient extends Estimate {
  /** as in the profile's formula: "P1" */
  symbol: string
  meaning: string
}

/** A measured figure beside what the fit says. */
export interface Residual {
  row: number
  figure: 'TTFT' | 'TPOT' | 'latency'
  measuredSeconds: number
  fittedSeconds: number
}

/** Why a measurement says less than it seems to. */
export type Warning =
  | { kind: 'one-call' }
  | { kind: 'concurrency-unstated' }
  | { kind: 'cold' }
  | { kind: 'few-samples'; rows: number; fewest: number }
  | { kind: 'one-size'; what: 'prompt' | 'work'; size: number }
  /** one setting only: what it says of derived costs, or null where nothing is derived */
  | { kind: 'one-setting'; factors: Factors | null }
  | { kind: 'no-spare'; figures: number; coefficients: number }
  | { kind: 'crowded-ttft'; concurrency: number }
  | { kind: 'poor-fit'; worst: number }

/** Smallest and largest values that were measured. */
export interface Range {
  concurrency: [number, number]
  input?: [number, number]
  output?: [number, number]
  work?: [number, number]
}

/** Step costs fitted to a load test. */
export interface Calibration {
  spec: ProfileSpec
  coefficients: Coefficient[]
  residuals: Residual[]
  /** median and largest of |fitted − measured| / measured */
  medianError: number
  worstError: number
  range: Range
  /** where only one setting was measured, which can not tell coefficients apart */
  oneSetting: OneSetting | undefined
  warnings: Warning[]
}

export function rangeOf(rows: readonly MeasurementRow[]): Range {
  const span = (values: (number | undefined)[]): [number, number] | undefined => {
    const there = values.filter((v) => v !== undefined)
    return there.length > 0 ? [Math.min(...there), Math.max(...there)] : undefined
  }
  const optional = { input: span(rows.map((r) => r.input)), output: span(rows.map((r) => r.output)), work: span(rows.map((r) => r.work)) }
  return {
    concurrency: span(rows.map((r) => r.concurrency)) ?? [1, 1],
    ...(optional.input && { input: optional.input }),
    ...(optional.output && { output: optional.output }),
    ...(optional.work && { work: optional.work }),
  }
}

/** Median and largest relative error of residuals. */
export function errorsOf(residuals: readonly Residual[]): Pick<Calibration, 'medianError' | 'worstError'> {
  const errors = residuals.map((r) => Math.abs(r.fittedSeconds - r.measuredSeconds) / r.measuredSeconds).sort((a, b) => a - b)
  return { medianError: errors[Math.ceil(errors.length / 2) - 1] ?? NaN, worstError: errors.at(-1) ?? NaN }
}
