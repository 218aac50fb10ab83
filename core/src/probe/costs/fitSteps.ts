import type { ProbedRequest } from '../probed.ts'
import { blockCertainty, unsure, type Certainty } from './blockCertainty.ts'
import { figuresOf, replayed, scaleOf } from './figures.ts'
import { fromRecord } from './fromRecord.ts'
import { fromReplays } from './fromReplays.ts'
import type { Served } from './replay.ts'
import { STEP_COEFFICIENTS } from '../../service/measured/stepCoefficients.ts'
import { streamedOf } from './streamed.ts'
import { middle } from './middle.ts'

/** Step costs behind measured requests, and how sure they are. */
export interface FittedSteps extends Certainty {
  served: Served
  /** who was there was known at each token, or costs were tried until replays came near */
  from: 'record' | 'replays'
  values: number[]
  residuals: StepResidual[]
  /** middle size of a relative residual */
  medianError: number
  requests: number
  mostAtOnce: number
}

/** A measured time beside what the fit has for it. */
export interface StepResidual {
  number: number
  part: string
  sent: number
  input: number
  figure: 'TTFT' | 'decode'
  measuredSeconds: number
  fittedSeconds: number
}

const COUNT = STEP_COEFFICIENTS.length

/**
 * Step costs behind measured requests, each by itself. Where one replica was seen to give tokens one by one, who was served with whom at
 * each of them is known from the record, and the costs follow from it alone. Else from replays of the same requests, sent at the same
 * times, whose first tokens and ends come nearest.
 *
 * @param rows of which all that finished and streamed are used
 * @returns undefined for fewer than six such
 */
export function fitSteps(rows: readonly ProbedRequest[], served: Served): FittedSteps | undefined {
  const used = streamedOf(rows)
  if (used.length < COUNT) return undefined
  const recorded = served.replicas === 1 && served.prompts === 'whole' ? fromRecord(used) : undefined
  const values = recorded?.values ?? fromReplays(used, served)
  const measured = figuresOf(used)
  const now = replayed(used, values, served)
  const residuals = used.flatMap((r, i): StepResidual[] => {
    const of = { number: r.number, part: r.part, sent: r.sent, input: r.input }
    return [
      { ...of, figure: 'TTFT', measuredSeconds: measured[2 * i], fittedSeconds: now[2 * i] },
      { ...of, figure: 'decode', measuredSeconds: measured[2 * i + 1], fittedSeconds: now[2 * i + 1] },
    ]
  })
  return {
    served,
    from: recorded ? 'record' : 'replays',
    values,
    // A replay moves by who just misses a step: what its slopes say of themselves is too sure.
    ...(recorded ? blockCertainty(recorded.equations, values) : unsure(values)),
    residuals,
    medianError: middle(measured.map((m, i) => Math.abs(now[i] - m) / scaleOf(m))),
    requests: used.length,
    mostAtOnce: Math.max(...used.map((r) => r.atOnce)),
  }
}
