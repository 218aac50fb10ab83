import { grouped } from '../../units/number.ts'
import { idleShown, idleWords, isAfterIdle, type IdleShown } from '../idle.ts'
import { reasonWords, takenFor } from '../probeWords.ts'
import type { Price } from '../price.ts'
import type { ProbedRequest } from '../probed.ts'
import type { ProbeShape } from '../shape.ts'
import { summarisePart, type PartSummary } from '../summary.ts'
import { beliefSentence, doubtWords, misfitWords } from './beliefWords.ts'
import { bendSteps, type BendStep } from './bend.ts'
import { fitSteps, type FittedSteps } from './fitSteps.ts'
import { judge, type Judgement } from './judge.ts'
import type { Served } from './replay.ts'
import { splitOf } from './split.ts'
import { STEP_COEFFICIENTS } from '../../service/measured/stepCoefficients.ts'
import { streamedOf } from './streamed.ts'

/** A request as the fitted step costs have it, seconds from when it was sent. */
export interface Predicted {
  number: number
  firstTokenSeconds: number
  latencySeconds: number
}

/** All that is told of measured requests. */
export interface Measured {
  /** whether it can be believed, before everything else: a sentence */
  belief: string
  parts: PartSummary[]
  /** undefined where too few finished and streamed */
  fitted?: FittedSteps
  judged?: Judgement
  /** of the requests that were fitted, and of those that judged */
  predicted: Predicted[]
  bend: BendStep[]
  /** where first calls came after idle */
  idle?: IdleShown
  /** what the requests may and may not be taken for, what was left out, what lies to one side, what could not be told: sentences */
  remarks: string[]
}

/**
 * Tells step costs behind measured requests, and how far they can be believed.
 *
 * @param rows in any order
 * @param paid what requests cost, if it is known
 */
export function tellMeasured(rows: readonly ProbedRequest[], served: Served, paid?: Price): Measured {
  const parts = [...new Set(rows.map((r) => r.part))].map((part) =>
    summarisePart(
      part,
      rows.filter((r) => r.part === part),
    ),
  )
  const { fitting, judging } = splitOf(rows)
  const fitted = fitSteps(fitting, served)
  const judged = fitted && judging.length > 0 ? judge(fitted, judging) : undefined
  const idle = idleShown(rows)
  const taken = [...idleWords(idle), ...reasonWords(rows), ...takenFor(kindOfParts(parts), parts)]
  if (!fitted) return { belief: tooFewWords(rows), parts, predicted: [], bend: [], ...(idle && { idle }), remarks: taken }
  return {
    belief: judged ? beliefSentence(judged) : UNJUDGED,
    parts,
    fitted,
    ...(judged && { judged }),
    predicted: [...ofFitted(fitted), ...(judged ? ofJudged(judged) : [])],
    bend: bendSteps(rows, fitted),
    ...(idle && { idle }),
    remarks: [
      ...unusedWords('fitted', fitting),
      ...unusedWords('judged', judging),
      ...misfitWords(fitted),
      ...doubtWords(fitted, paid),
      ...taken,
    ],
  }
}

export const UNJUDGED = 'Nothing judges this fit: all there is was fitted. Measure another load beside it.'

function tooFewWords(rows: readonly ProbedRequest[]): string {
  const count = streamedOf(rows).length
  return `Nothing can be said of step costs: ${count === 0 ? 'none' : `only ${count}`} of the requests${rows.some((r) => isAfterIdle(r.part)) ? ' that are no first calls after idle' : ''} finished and streamed, and it takes at least ${STEP_COEFFICIENTS.length}, better some dozens.`
}

/** Whoever did not finish is not replayed: what he took from the others is missing. */
export function unusedWords(what: 'fitted' | 'judged', rows: readonly ProbedRequest[]): string[] {
  const count = rows.filter((r) => !r.warmUp && !isAfterIdle(r.part)).length
  const left = count - streamedOf(rows).length
  return left === 0
    ? []
    : [
        `${grouped(left, 0)} of the ${grouped(count, 0)} requests that are ${what} did not finish, or did not stream, and are left out: what they took from the others is not in it.`,
      ]
}

function ofFitted({ residuals }: FittedSteps): Predicted[] {
  const first = new Map<number, number>()
  return residuals.flatMap((r): Predicted[] => {
    if (r.figure === 'TTFT') first.set(r.number, r.fittedSeconds)
    const firstTokenSeconds = first.get(r.number) ?? NaN
    return r.figure === 'decode' ? [{ number: r.number, firstTokenSeconds, latencySeconds: firstTokenSeconds + r.fittedSeconds }] : []
  })
}

const ofJudged = ({ each }: Judgement): Predicted[] =>
  each.map(({ number, predicted }) => ({ number, firstTokenSeconds: predicted.firstToken, latencySeconds: predicted.latency }))

/** Which load these parts are of, by what they are called. */
function kindOfParts(parts: readonly PartSummary[]): ProbeShape['kind'] {
  const counted = parts.filter((p) => !p.warmUp).map((p) => p.part)
  const all = (words: RegExp) => counted.length > 0 && counted.every((part) => words.test(part))
  if (all(/one call$/)) return 'one'
  if (all(/one after another$/)) return 'one-after-another'
  if (all(/without a call$/)) return 'after-idle'
  if (all(/(without a call|while awake)$/)) return 'find-idle'
  return all(/\d at once$/) ? 'at-once' : 'rates'
}
