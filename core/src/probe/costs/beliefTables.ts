import { duration } from '../../units/duration.ts'
import { STEP_COEFFICIENTS } from '../../service/measured/stepCoefficients.ts'
import type { ProbedTable } from '../probedTable.ts'
import { offWords } from './beliefWords.ts'
import type { FittedSteps } from './fitSteps.ts'
import { JUDGED_FIGURES, type Judgement } from './judge.ts'

/** Step costs with their intervals, and those of another measurement beside them, if there is one. */
export function stepCostsTable({ values, intervals }: FittedSteps, before?: FittedSteps): ProbedTable {
  return {
    header: ['step costs', 'seconds', '95 % interval', ...(before ? ['before'] : []), 'what it is'],
    rows: STEP_COEFFICIENTS.map(({ symbol, meaning }, c) => [
      symbol,
      duration(values[c]),
      intervals[c] ? `${duration(intervals[c].low)} … ${duration(intervals[c].high)}` : '–',
      ...(before ? [duration(before.values[c])] : []),
      `seconds ${meaning}`,
    ]),
  }
}

/** Percentiles of what was not fitted, measured and predicted, and how far off that is, with what of it the measurement leaves open. */
export function judgedTable({ percentiles }: Judgement): ProbedTable {
  return {
    header: ['not fitted', 'measured', 'predicted', 'off by', 'with 95 %'],
    rows: percentiles.map((p) => [
      `${JUDGED_FIGURES[p.figure]} ${p.share}`,
      duration(p.measured.value),
      duration(p.predictedSeconds),
      offWords(p.error),
      `${p.errorLow === undefined ? '' : offWords(p.errorLow)} … ${p.errorHigh === undefined ? '' : offWords(p.errorHigh)}`,
    ]),
  }
}
