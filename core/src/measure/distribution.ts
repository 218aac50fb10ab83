import { exp, ln } from '../arithmetic/sameBits.ts'
import type { RunRecord } from '../engine/record.ts'
import type { Plan } from '../plan/schema.ts'
import type { Stretch } from '../units/stretch.ts'
import { countOutcomes } from './counts.ts'
import { finishedValues, MEASURES, type Measure, type Selection } from './measures.ts'
import { ALL_CLASSES, countedSelection, spread, type Spread } from './summary.ts'

/** Requests whose measure lies in [from, until). */
export interface Bin {
  fromSeconds: number
  untilSeconds: number
  requests: number
}

/** How long it took, of each request of a class that finished. */
export interface Distribution {
  className: string
  measure: Measure
  spread: Spread
  /** finished requests that took less than the first edge, such as those that did not wait */
  belowFirst: number
  /** turned away, given up or failed: they have no time */
  lost: number
  /** from the first that holds a request to the last, without a gap: 20 to each power of ten */
  bins: Bin[]
}

const BINS_A_DECADE = 20
const FIRST_EXPONENT = -5
const LAST_EXPONENT = 7
/** Edges of all bins, ascending: the same for every run, so that two lie over each other. Whole decades are exact. */
const EDGES = Array.from({ length: (LAST_EXPONENT - FIRST_EXPONENT) * BINS_A_DECADE + 1 }, (_, i) => {
  const exponent = FIRST_EXPONENT + i / BINS_A_DECADE
  return Number.isInteger(exponent) ? Number(`1e${exponent}`) : exp(exponent * ln(10))
})

/** Below this nothing is told apart: 10 µs. */
export const FIRST_EDGE_SECONDS = EDGES[0]

/**
 * How long one measure took of the requests that arrive in a stretch, after the warm-up.
 *
 * @param classIndex −1 for all classes of the run together
 * @param within of the horizon; all that counts if left out
 */
export function distribution(plan: Plan, record: RunRecord, classIndex: number, measure: Measure, within?: Stretch): Distribution {
  const counted = countedSelection(plan, classIndex)
  const selection: Selection = {
    ...counted,
    fromSeconds: Math.max(counted.fromSeconds, within?.fromSeconds ?? 0),
    untilSeconds: Math.min(counted.untilSeconds, within?.untilSeconds ?? Infinity),
  }
  const values = finishedValues(record, measure, selection)
  const { rejected, abandoned, failed } = countOutcomes(record, selection)
  const className = classIndex < 0 ? ALL_CLASSES : plan.classes[classIndex].name
  return { className, measure, spread: spread(values), lost: rejected + abandoned + failed, ...binned(values) }
}

/** Those of every class of a service, and of all together where there are several; latency always, the others where there are values. */
export function allDistributions(plan: Plan, record: RunRecord, service: string, within?: Stretch): Distribution[] {
  const own = plan.classes.flatMap((c, i) => (c.service === service ? [i] : []))
  return [...own, ...(own.length > 1 ? [-1] : [])].flatMap((i) =>
    MEASURES.map((m) => distribution(plan, record, i, m, within)).filter((d) => d.measure === 'latency' || d.spread.count > 0),
  )
}

/** @param sorted ascending seconds */
export function binned(sorted: Float64Array): Pick<Distribution, 'belowFirst' | 'bins'> {
  const bins: Bin[] = []
  let i = 0
  while (i < sorted.length && sorted[i] < EDGES[0]) i++
  const belowFirst = i
  for (let b = 0; i < sorted.length; b++) {
    const until = b + 2 < EDGES.length ? EDGES[b + 1] : Infinity
    const before = i
    while (i < sorted.length && sorted[i] < until) i++
    if (i > before || bins.length > 0) bins.push({ fromSeconds: EDGES[b], untilSeconds: until, requests: i - before })
  }
  return { belowFirst, bins }
}
