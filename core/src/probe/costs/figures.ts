import type { ProbedRequest } from '../probed.ts'
import { replay, type Served } from './replay.ts'
import { arrivedAt, specOfSteps } from '../../service/measured/stepCoefficients.ts'

/** Times shorter than this are told by the clock no better. */
export const CLOCK_SECONDS = 1e-3
/** What a time is off by is taken as a share of this. */
export const scaleOf = (seconds: number): number => Math.max(CLOCK_SECONDS, seconds)

/** Two figures of each request: until its first token, and from there until its end. */
export const figuresOf = (used: readonly ProbedRequest[]): Float64Array =>
  Float64Array.from(used.flatMap((r) => [r.firstToken - r.sent, r.end - r.firstToken]))

/** The same as these coefficients have them, for the same requests sent at the same times. */
export function replayed(used: readonly ProbedRequest[], values: readonly number[], served: Served): Float64Array {
  const { firstToken, end } = replay(
    used.map((r) => ({ seconds: arrivedAt(r.sent, values), input: r.input, output: r.output })),
    specOfSteps(values),
    served,
  )
  return Float64Array.from(used.flatMap((r, i) => [firstToken[i] - r.sent, end[i] - firstToken[i]]))
}
