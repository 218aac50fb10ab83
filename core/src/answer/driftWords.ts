import { clock, duration } from '../units/duration.ts'
import { bare, grouped, offPercent, threeDigits } from '../units/number.ts'
import type { Drift, DriftCause } from './driftParts.ts'

const times = (factor: number) => `${bare(threeDigits(factor))} times`

function causeWords({ cause, left }: DriftCause, average: Drift['average']): string {
  const what =
    cause.kind === 'step costs'
      ? `every step taking ${times(cause.factor)} as long as the plan says`
      : cause.missing === 1
        ? 'one replica less than the plan states'
        : `${cause.missing} replicas less than the plan states`
  return `${what}, which leaves requests ${offPercent(left)} off in the ${average}`
}

/** What of the load is otherwise than the plan says, beyond a tolerance. */
export function arrivedWords({ arrived, tolerance }: Drift): string[] {
  const { requests, input, output } = arrived
  const off = (ratio: number) => Math.abs(ratio - 1) > tolerance
  return [
    ...(off(requests) ? [`${times(requests)} as many requests come as the plan says.`] : []),
    ...(off(input) ? [`Prompts are ${times(input)} as long as the plan says.`] : []),
    ...(off(output) ? [`Answers are ${times(output)} as long as the plan says.`] : []),
  ]
}

/** Whether a plan still describes what happens: neither its times nor its load are off by more than was tolerated. */
export function describes(drift: Drift): boolean {
  const drifting = drift.pieces.some((p) => Math.abs(p.ratio - 1) > drift.tolerance)
  return !drifting && Math.abs(drift.ratio - 1) <= drift.tolerance && arrivedWords(drift).length === 0
}

/** What a running service is like beside its plan: sentences. @param startIso when its log begins */
export function driftWords(drift: Drift, startIso: string): string[] {
  const { service, average, requests, pieces, tolerance, sinceSeconds, ratio, offNow, causes } = drift
  const drifting = pieces.filter((p) => Math.abs(p.ratio - 1) > tolerance)
  const compared = `${grouped(requests, 0)} requests`
  const first =
    sinceSeconds !== undefined
      ? `${service} drifts since ${clock(startIso, sinceSeconds)}: requests take ${times(ratio)} as long as predicted.`
      : drifting.length > 0
        ? `${service} drifts here and there, in ${drifting.length} of ${pieces.length} stretches; over all ${compared} take ${times(ratio)} as long as predicted.`
        : Math.abs(ratio - 1) > tolerance
          ? `${service}: ${compared} take ${times(ratio)} as long as predicted.`
          : `${service} is as predicted: over ${compared} they take ${times(ratio)} as long, in the ${average}.`
  const [best, ...others] = causes
  return [
    first,
    ...(best
      ? [`What explains it best is ${causeWords(best, average)} (as it is they are ${offPercent(offNow)} off).`]
      : drifting.length > 0
        ? ['Neither dearer steps nor missing replicas explain it.']
        : []),
    ...(best && others[0] && others[0].cause.kind !== best.cause.kind ? [`Next best is ${causeWords(others[0], average)}.`] : []),
    ...arrivedWords(drift),
  ]
}

/** Exact figures, a row a stretch. */
export function driftTable({ average, pieces }: Drift, startIso: string): { header: string[]; rows: string[][] } {
  return {
    header: [
      'from',
      'requests',
      ...(average === 'middle' ? ['took p50', 'predicted p50', 'each, times as long'] : ['took, mean', 'predicted, mean', 'times as long']),
    ],
    rows: pieces.map((p) => [
      clock(startIso, p.fromSeconds),
      grouped(p.requests, 0),
      duration(p.tookSeconds),
      duration(p.predictedSeconds),
      bare(threeDigits(p.ratio)),
    ]),
  }
}
