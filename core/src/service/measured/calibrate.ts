import { modelProfileKind } from '../../plan/profileKind.ts'
import type { Measurement, Model } from '../../plan/schema.ts'
import { errorsOf, rangeOf, type Calibration, type Warning } from './calibration.ts'
import { oneSettingOf, type Factors } from './oneSetting.ts'
import { fitTokens } from './tokenFit.ts'
import { fitWork } from './workFit.ts'

/** Requests behind a row below which its mean is hardly more than an anecdote. */
const FEW_SAMPLES = 20
/** Relative error of a figure from which on the form of the costs is said not to suit. */
const POOR = 0.25

/** What kind of step costs a model has. */
export function costKind(model: Model): 'token' | 'batch' | 'shared' {
  const kind = modelProfileKind(model)
  return kind === 'token' || kind === 'shared' ? kind : 'batch'
}

type Kind = ReturnType<typeof costKind>

/** A measurement is fitted once, though every placement that could use it asks. */
const known = new WeakMap<Measurement, Map<Kind, Calibration | undefined>>()

/** Fits step costs to a load test; undefined when it has no row that can be used for this kind of model. */
export function calibrate(measurement: Measurement, kind: Kind): Calibration | undefined {
  const fits = known.get(measurement) ?? new Map<Kind, Calibration | undefined>()
  known.set(measurement, fits)
  if (!fits.has(kind)) fits.set(kind, fitOf(measurement, kind))
  return fits.get(kind)
}

function fitOf(measurement: Measurement, kind: Kind): Calibration | undefined {
  const { rows } = measurement
  const fitted = kind === 'token' ? fitTokens(rows) : fitWork(rows, kind)
  if (!fitted) return undefined
  const { spec, coefficients, residuals } = fitted
  const errors = errorsOf(residuals)
  const oneSetting = oneSettingOf(measurement)
  const warnings: Warning[] = [
    ...(oneSetting ? [{ kind: 'one-setting', factors: null } as const] : []),
    ...measurementWarnings(measurement, kind),
    ...fitWarnings(fitted, errors.worstError),
  ]
  return { spec, coefficients, residuals, ...errors, range: rangeOf(rows), oneSetting, warnings }
}

function measurementWarnings(measurement: Measurement, kind: Kind): Warning[] {
  const { rows } = measurement
  const range = rangeOf(rows)
  const few = rows.filter((r) => (r.count ?? 1) < FEW_SAMPLES)
  const sizes = kind === 'token' ? range.input : range.work
  return [
    ...(range.concurrency[1] === 1 ? [{ kind: 'one-call' } as const] : []),
    ...(measurement.concurrencyStated === false ? [{ kind: 'concurrency-unstated' } as const] : []),
    ...(measurement.warmedUp === false ? [{ kind: 'cold' } as const] : []),
    ...(few.length > 0 ? [{ kind: 'few-samples', rows: few.length, fewest: Math.min(...few.map((r) => r.count ?? 1)) } as const] : []),
    ...(sizes && sizes[0] === sizes[1] ? [{ kind: 'one-size', what: kind === 'token' ? 'prompt' : 'work', size: sizes[0] } as const] : []),
  ]
}

function fitWarnings(fitted: { degreesOfFreedom: number; figures: number; ttftAt?: number | undefined }, worst: number): Warning[] {
  const { degreesOfFreedom, figures, ttftAt } = fitted
  return [
    ...(degreesOfFreedom < 1 ? [{ kind: 'no-spare', figures, coefficients: figures - degreesOfFreedom } as const] : []),
    ...(ttftAt !== undefined && ttftAt > 1 ? [{ kind: 'crowded-ttft', concurrency: ttftAt } as const] : []),
    ...(worst > POOR ? [{ kind: 'poor-fit', worst } as const] : []),
  ]
}

/** A fit to one setting whose figures only scale what is derived: it has no coefficients of its own. */
export function scalingOf(calibration: Calibration, factors: Factors): Calibration {
  const kept = calibration.warnings.filter(
    (w) => w.kind !== 'one-setting' && w.kind !== 'one-size' && w.kind !== 'no-spare' && w.kind !== 'poor-fit',
  )
  return {
    ...calibration,
    coefficients: [],
    residuals: [],
    medianError: 0,
    worstError: 0,
    warnings: [{ kind: 'one-setting', factors }, ...kept],
  }
}
