import { FINDING_COSTS, partsOfShape, probedCsv, summarisePart, type ProbePart } from '@sandclock/core'
import { measuredRows, type TestLoad } from '../../core/test/measuredRows.ts'

/**
 * P0, P1, M, O, m1 and the way: what a replica of the demo's talk costs on the machine that its answer rents, which is dearer than what is
 * derived for it. Invented, as is all that is measured of it.
 */
const HIDDEN = [0.0061, 1.75e-4, 0.0246, 1.6e-4, 2.6e-7, 0.0022]
const SERVED = { replicas: 1, sequences: 64, prompts: 'whole' } as const
const LATE_SECONDS = 0.004
const SIZES: [number, number][] = [
  [200, 40],
  [1400, 70],
]
const JUDGE_SECONDS = 30

/** Requests as a probe would have measured them of it: so many at once, then two loads to judge by. */
export function measuredExample(): string {
  const shape = {
    ...FINDING_COSTS,
    kind: 'find-costs' as const,
    clients: [...FINDING_COSTS.clients],
    judgeSeconds: JUDGE_SECONDS,
    sizes: SIZES.map(([input, output]) => ({ input, output })),
    warmUp: 0,
    seed: 1,
  }
  const closed = shape.clients.map((clients) => ({ part: `${clients} at once`, clients, requestsEach: shape.requestsEach, sizes: SIZES }))
  const alone = measuredRows(HIDDEN, SERVED, closed, LATE_SECONDS, 1)
  const best = Math.max(
    ...closed.map(
      ({ part }) =>
        summarisePart(
          part,
          alone.filter((r) => r.part === part),
        ).perSecond,
    ),
  )
  const loads: TestLoad[] = []
  const parts = partsOfShape(shape)
  for (let next = parts.next(); !next.done; next = parts.next({ perSecond: best, kept: true }))
    loads.push(loadOf(next.value, shape.requestsEach))
  return [...probedCsv(measuredRows(HIDDEN, SERVED, loads, LATE_SECONDS, 1))].join('')
}

const loadOf = (part: ProbePart, requestsEach: number): TestLoad =>
  part.kind === 'closed'
    ? { part: part.label, clients: part.clients, requestsEach, sizes: SIZES }
    : { part: part.label, due: [...part.due], sizes: SIZES }
