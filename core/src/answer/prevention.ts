import { alterationWords } from '../explain/alterationWords.ts'
import type { RunRecord } from '../engine/record.ts'
import type { LifeRecord } from '../life/startRules.ts'
import { mean } from '../measure/percentile.ts'
import { finishedValues } from '../measure/measures.ts'
import { holds, readTarget } from '../measure/targets.ts'
import { countedSelection } from '../measure/summary.ts'
import type { Plan } from '../plan/schema.ts'
import { altered } from '../run/alteration.ts'
import type { Alteration } from '../run/alteredService.ts'
import type { RunSpec } from '../run/spec.ts'
import { laddersFor, type Ladder } from '../search/ladders.ts'
import type { Load } from '../search/load.ts'
import { targetsOf, type PlacedTarget } from '../measure/placedTargets.ts'
import { wholeRun } from '../run/wholeRun.ts'

/** What one change would have done to a moment. */
export interface Prevention {
  alteration: Alteration
  /** the change in words */
  words: string
  /** every promise is kept in the moment */
  prevents: boolean
  /** requests of the moment that break a promise after the change */
  late: number
  /** cost of the whole run per hour, after the change */
  perHour: number
  /** every promise of the plan is kept by the whole run, with its margin */
  holds: boolean
}

/** How far the search for the cheapest change is. */
export interface PreventionProgress {
  /** kinds of change that are settled, of all */
  settled: number
  of: number
  simulations: number
  /** the mildest of each kind, the ones that prevent first, cheapest first */
  found: Prevention[]
}

/** A stretch of time that went badly. */
export interface Moment {
  fromSeconds: number
  untilSeconds: number
}

/**
 * The cheapest single change that would have prevented a bad moment: every kind of change is really simulated on the
 * same requests, of each kind the mildest that helps is found by halving, from the strongest on. Yields after every
 * simulation.
 *
 * @param run the record of the run that went badly, and how its fleet came and went
 */
export function* preventions(
  plan: Plan,
  spec: RunSpec,
  load: Load,
  run: { record: RunRecord; life: LifeRecord | null },
  moment: Moment,
): Generator<PreventionProgress, PreventionProgress> {
  const wanted = (run.life?.wanted ?? [])
    .filter((w) => w.seconds < moment.untilSeconds)
    .reduce((most, w) => (w.seconds >= moment.fromSeconds - 3600 ? Math.max(most, w.replicas) : w.replicas), 0)
  const meanSeconds = mean(finishedValues(run.record, 'latency', countedSelection(plan, -1))) ?? 0
  const ladders = laddersFor(plan, spec, { ...moment, wanted, meanSeconds })
  const progress: PreventionProgress = { settled: 0, of: ladders.length, simulations: 0, found: [] }
  for (const ladder of ladders) {
    const best = yield* mildest(ladder, (alteration) => attempt(plan, spec, load, moment, alteration), progress)
    if (best) progress.found = [...progress.found, best].sort(byUse)
    progress.settled++
    yield { ...progress }
  }
  return progress
}

const byUse = (a: Prevention, b: Prevention) =>
  Number(b.prevents) - Number(a.prevents) || Number(b.holds) - Number(a.holds) || (a.prevents ? a.perHour - b.perHour : a.late - b.late)

/** The strongest first: where that does not help nothing milder is tried. Then halving between what fails and what helps. */
function* mildest(
  ladder: Ladder,
  attempt: (a: Alteration) => Prevention | undefined,
  progress: PreventionProgress,
): Generator<PreventionProgress, Prevention | undefined> {
  const attemptAt = function* (rung: number): Generator<PreventionProgress, Prevention | undefined> {
    const tried = attempt(ladder[rung])
    if (tried) progress.simulations++
    yield { ...progress }
    return tried
  }
  let high = ladder.length - 1
  let best = yield* attemptAt(high)
  while (best === undefined && high > 0) best = yield* attemptAt(--high) // beyond the stock
  if (!best?.prevents) return best
  let low = -1
  while (high - low > 1) {
    const middle = (low + high) >> 1
    const tried = yield* attemptAt(middle)
    if (tried?.prevents) [best, high] = [tried, middle]
    else low = middle
  }
  return best
}

function attempt(plan: Plan, spec: RunSpec, load: Load, moment: Moment, alteration: Alteration): Prevention | undefined {
  const next = altered(plan, spec, alteration)
  if (!next) return undefined
  const { record, perHour, holds } = wholeRun(plan, next, load.of(next.service, 0))
  const placed = targetsOf(plan, next.service)
  return { alteration, words: alterationWords(spec, next, alteration), perHour, holds, ...inMoment(record, placed, moment) }
}

/** Whether every promise was kept by those who came in the moment, as promised and without head-room. */
function inMoment(
  record: RunRecord,
  placed: readonly PlacedTarget[],
  { fromSeconds, untilSeconds }: Moment,
): Pick<Prevention, 'prevents' | 'late'> {
  let prevents = true
  let late = 0
  for (const { classIndex, target, overdueSeconds } of placed) {
    if (target.measure === 'throughput') continue // of the whole run, not of a moment
    const here = target.measure === 'lost' ? target : { ...target, over: 'all' as const }
    const reading = readTarget(record, { target: here, overdueSeconds }, { classIndex, fromSeconds, untilSeconds }, 0)
    prevents &&= holds(reading, here, 0)
    late = Math.max(late, reading.misses)
  }
  return { prevents, late }
}
