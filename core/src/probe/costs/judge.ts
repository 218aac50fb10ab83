import { percentileInterval, type MeasuredPercentile } from '../../measure/orderStatistics.ts'
import type { ProbedRequest } from '../probed.ts'
import { PROBED_SHARES, type ProbedShare } from '../summary.ts'
import type { FittedSteps } from './fitSteps.ts'
import { replay } from './replay.ts'
import { streamedOf } from './streamed.ts'
import { arrivedAt, specOfSteps } from '../../service/measured/stepCoefficients.ts'

export const JUDGED_FIGURES = { firstToken: 'TTFT', perToken: 'TPOT', latency: 'latency' } as const
export type JudgedFigure = keyof typeof JUDGED_FIGURES

/** A percentile as it was measured, and as it was predicted. */
export interface JudgedPercentile {
  figure: JudgedFigure
  share: ProbedShare
  measured: MeasuredPercentile
  predictedSeconds: number
  /** (predicted − measured) / measured, with what of it the measurement leaves open */
  error: number
  errorLow?: number
  errorHigh?: number
}

export interface Judgement {
  parts: string[]
  requests: number
  mostAtOnce: number
  percentiles: JudgedPercentile[]
  /** the largest error at p50 and p95 of first token and latency */
  within: number
  /** each request, measured and predicted, in the order in which they were sent */
  each: { number: number; measured: Record<JudgedFigure, number>; predicted: Record<JudgedFigure, number> }[]
}

/** Whether some of these were fitted: what was can not judge. */
export function wereFitted(fitted: FittedSteps, rows: readonly ProbedRequest[]): boolean {
  const known = new Set(fitted.residuals.map((r) => `${r.sent} ${r.measuredSeconds}`))
  return rows.some((r) => known.has(`${r.sent} ${r.firstToken - r.sent}`))
}

/**
 * Requests that were not fitted, through the engine with the step costs that were, beside what they took.
 *
 * @returns undefined where none of them finished and streamed
 */
export function judge(fitted: FittedSteps, rows: readonly ProbedRequest[]): Judgement | undefined {
  const used = streamedOf(rows)
  if (used.length === 0) return undefined
  const { firstToken, end } = replay(
    used.map((r) => ({ seconds: arrivedAt(r.sent, fitted.values), input: r.input, output: r.output })),
    specOfSteps(fitted.values),
    fitted.served,
  )
  const each = used.map((r, i) => ({
    number: r.number,
    measured: figures(r.sent, r.firstToken, r.end, r.output),
    predicted: figures(r.sent, firstToken[i], end[i], r.output),
  }))
  const percentiles = (Object.keys(JUDGED_FIGURES) as JudgedFigure[]).flatMap((figure) =>
    (Object.keys(PROBED_SHARES) as ProbedShare[]).map((share) => beside(each, figure, share)),
  )
  const main = percentiles.filter((p) => p.share !== 'p99' && p.figure !== 'perToken')
  return {
    parts: [...new Set(used.map((r) => r.part))],
    requests: used.length,
    mostAtOnce: Math.max(...used.map((r) => r.atOnce)),
    percentiles,
    within: Math.max(...main.map((p) => Math.abs(p.error))),
    each,
  }
}

const figures = (sent: number, first: number, end: number, output: number): Record<JudgedFigure, number> => ({
  firstToken: first - sent,
  perToken: (end - first) / (output - 1),
  latency: end - sent,
})

function beside(each: Judgement['each'], figure: JudgedFigure, share: ProbedShare): JudgedPercentile {
  const at = (of: 'measured' | 'predicted') =>
    percentileInterval(Float64Array.from(each.map((e) => e[of][figure])).sort(), PROBED_SHARES[share])!
  const [measured, predictedSeconds] = [at('measured'), at('predicted').value]
  const error = (seconds: number) => predictedSeconds / seconds - 1
  return {
    figure,
    share,
    measured,
    predictedSeconds,
    error: error(measured.value),
    ...(measured.high !== undefined && { errorLow: error(measured.high) }),
    ...(measured.low !== undefined && { errorHigh: error(measured.low) }),
  }
}
