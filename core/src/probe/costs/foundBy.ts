import type { Found } from '../../plan/schema.ts'
import { wayOf } from '../../service/measured/stepCoefficients.ts'
import type { ProbedRequest } from '../probed.ts'
import type { FittedSteps } from './fitSteps.ts'
import type { Judgement } from './judge.ts'

/** What a plan says of step costs that were found: behind what, how far, how well, and how sure. @param by who measured, when, how */
export function foundBy(
  by: string,
  { fitted, judged }: { fitted: FittedSteps; judged?: Judgement | undefined },
  rows: readonly ProbedRequest[],
): Found {
  const most = (of: (r: ProbedRequest) => number) => rows.reduce((m, r) => Math.max(m, of(r)), 1)
  const { values, intervals, correlation, mostAtOnce, from } = fitted
  return {
    by: by.slice(0, MOST_LETTERS),
    concurrency: Math.max(mostAtOnce, judged?.mostAtOnce ?? 0),
    input: most((r) => r.input),
    output: most((r) => r.output),
    ...(judged && { within: Math.max(LEAST_WITHIN, Math.min(1, judged.within)) }),
    ...(from === 'record' && {
      certainty: { way: wayOf(values), intervals: intervals.map((i, c) => i ?? { low: values[c], high: values[c] }), correlation },
    }),
  }
}

/** As long as a plan takes it. */
const MOST_LETTERS = 400
/** Nothing is predicted without any error. */
const LEAST_WITHIN = 1e-6
