import { percentileInterval, type MeasuredPercentile } from '../measure/orderStatistics.ts'
import { sum } from '../units/sum.ts'
import type { PartShown } from './shape.ts'
import type { ProbedRequest, ProbeOutcome } from './probed.ts'

/** Percentiles that are told of what was measured. */
export const PROBED_SHARES = { p50: 0.5, p95: 0.95, p99: 0.99 } as const
export type ProbedShare = keyof typeof PROBED_SHARES
export type ProbedPercentiles = Record<ProbedShare, MeasuredPercentile | undefined>

/** What one part of a probe showed. Times are seconds, from when a request was due. */
export interface PartSummary {
  part: string
  warmUp: boolean
  requests: number
  outcomes: Partial<Record<ProbeOutcome, number>>
  /** of those that finished */
  firstToken: ProbedPercentiles
  gap: ProbedPercentiles
  latency: ProbedPercentiles
  /** from the first due to the last end */
  seconds: number
  perSecond: number
  /** gaps in the mean; NaN where there are none */
  meanGap: number
  /** tokens a second of a request after its first token, in the mean; NaN where none had two */
  tokensOfOne: number
  /** of all together, from the first due to the last end */
  tokensOfAll: number
  /** how late the probe itself sent */
  late: ProbedPercentiles
  /** the probe was the bottleneck: what it measured is of itself */
  isVoid: boolean
}

/** Below this nobody says that a probe was late. */
const LATE_SECONDS = 0.005
const LATE_SHARE = 0.05

/**
 * What the requests of one part showed.
 *
 * @param rows in any order; of none all percentiles are undefined, and rates 0
 */
export function summarisePart(part: string, rows: readonly ProbedRequest[]): PartSummary {
  const finished = rows.filter((r) => r.outcome === 'finished')
  const outcomes: PartSummary['outcomes'] = {}
  for (const { outcome } of rows) outcomes[outcome] = (outcomes[outcome] ?? 0) + 1
  const from = rows.reduce((first, r) => Math.min(first, r.due), Infinity)
  const until = rows.reduce((last, r) => Math.max(last, r.end), -Infinity)
  const seconds = rows.length > 0 ? until - from : 0
  const over = (count: number) => (seconds > 0 ? count / seconds : 0)
  const streamed = finished.filter((r) => r.output > 1 && r.end > r.firstToken && r.gaps.length > 0)
  const late = percentiles(rows.map((r) => r.sent - r.due))
  const gaps = finished.flatMap((r) => r.gaps)
  const latency = percentiles(finished.map((r) => r.end - r.due))
  return {
    part,
    warmUp: rows.some((r) => r.warmUp),
    requests: rows.length,
    outcomes,
    firstToken: percentiles(finished.map((r) => r.firstToken - r.due)),
    gap: percentiles(gaps),
    latency,
    meanGap: sum(gaps, (g) => g) / gaps.length,
    seconds,
    perSecond: over(finished.length),
    tokensOfOne: sum(streamed, (r) => (r.output - 1) / (r.end - r.firstToken)) / streamed.length,
    tokensOfAll: over(sum(finished, (r) => r.output)),
    late,
    isVoid: (late.p95?.value ?? 0) > Math.max(LATE_SECONDS, LATE_SHARE * (latency.p50?.value ?? 0)),
  }
}

function percentiles(values: number[]): ProbedPercentiles {
  const sorted = Float64Array.from(values.filter((v) => !Number.isNaN(v))).sort()
  const at = (share: ProbedShare) => percentileInterval(sorted, PROBED_SHARES[share])
  return { p50: at('p50'), p95: at('p95'), p99: at('p99') }
}

/** What decides whether a load goes on: a share that fails, or a p95 above what is promised, ends it. */
export function shownBy({ requests, outcomes, perSecond, firstToken, latency }: PartSummary, promise: ProbePromise = {}): PartShown {
  const finished = outcomes.finished ?? 0
  const within = (value: MeasuredPercentile | undefined, most: number | undefined) =>
    most === undefined || (value !== undefined && value.value <= most)
  return {
    perSecond,
    ...(firstToken.p50 && { firstSeconds: firstToken.p50.value }),
    // Chance may send nobody in a short time at a low rate: that breaks nothing.
    kept:
      requests === 0 ||
      (finished >= 0.95 * requests && within(firstToken.p95, promise.firstTokenSeconds) && within(latency.p95, promise.latencySeconds)),
  }
}

/** What 95 of 100 requests are promised, where rates climb until it breaks. */
export interface ProbePromise {
  firstTokenSeconds?: number
  latencySeconds?: number
}
