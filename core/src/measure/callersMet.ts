import { Outcome, RejectCause } from '../engine/outcome.ts'
import { came, type RunRecord } from '../engine/record.ts'
import type { Plan } from '../plan/schema.ts'
import { COLD_STAGES, type ColdStage, type ColdTime } from './coldTime.ts'
import { selected } from './measures.ts'
import { percentile } from './percentile.ts'
import { countedSelection } from './summary.ts'

/** Callers who met the same. */
export interface Met {
  callers: number
  /** the longest that one of them waited, until he was served, turned away or gave up; 0 where none did */
  longestSeconds: number
  /** when the first and the last of them came, seconds of the horizon; null where none did */
  first: number | null
  last: number | null
}

/** What the callers of a class met; every caller is in one of the groups, and they add up to `arrivals`. */
export interface CallersMet {
  className: string
  arrivals: number
  /** taken in, and a replica was ready all the while; they may have waited for a place */
  warm: Met
  /** taken in, and waited for a start-up on the way: by the stage that took most of it */
  cold: (Met & { stage: ColdStage; medianSeconds: number })[]
  /** turned away in their last attempt, by why */
  refused: Met & { asleep: number; queueFull: number; rateLimited: number; tooLarge: number }
  gaveUp: Met & { cold: number }
  /** their replica was lost, and no attempt is left */
  failed: Met
  /** still waiting at the end */
  waiting: Met
  /** by equal pieces of the horizon: who waited for a start-up, was turned away, gave up; and who found it cold, see `coldCallers` */
  overTime: { pieceSeconds: number; cold: number[]; refused: number[]; gaveUp: number[]; foundCold: number[] }
}

class Group implements Met {
  callers = 0
  longestSeconds = 0
  first: number | null = null
  last: number | null = null

  add(at: number, waited: number): void {
    this.callers++
    this.longestSeconds = Math.max(this.longestSeconds, waited)
    this.first = Math.min(this.first ?? at, at)
    this.last = Math.max(this.last ?? at, at)
  }

  told(): Met {
    const { callers, longestSeconds, first, last } = this
    return { callers, longestSeconds, first, last }
  }
}

/** Pieces of the horizon: hours where there are enough of them. */
const pieceOf = (seconds: number) => (seconds >= 86_400 ? 3600 : seconds / 24)

/**
 * What callers of a class met on a run, those of the warm-up left out.
 *
 * @param classIndex −1 for all classes of the run together
 */
export function callersMet(plan: Plan, record: RunRecord, coldTime: ColdTime, classIndex: number, className: string): CallersMet {
  const selection = countedSelection(plan, classIndex)
  const pieceSeconds = pieceOf(plan.horizon.seconds)
  const pieces = Math.ceil(plan.horizon.seconds / pieceSeconds)
  const over = { cold: zeros(pieces), refused: zeros(pieces), gaveUp: zeros(pieces), foundCold: zeros(pieces) }
  const [warm, refused, gaveUp, failed, waiting] = Array.from({ length: 5 }, () => new Group())
  const cold = COLD_STAGES.map(() => ({ group: new Group(), waits: [] as number[] }))
  const byCause = zeros(Object.keys(RejectCause).length)
  let gaveUpCold = 0
  const count = (of: number[], at: number) => of[Math.min(pieces - 1, Math.floor(at / pieceSeconds))]++
  const byStage = new Float64Array(COLD_STAGES.length)
  for (let i = 0; i < record.requests.count; i++) {
    if (!selected(record, i, selection) || !came(record, i)) continue
    const at = record.at[i]
    const served = record.start[i] === record.start[i]
    const until = served ? record.start[i] : record.outcome[i] === Outcome.unfinished ? record.endSeconds : record.end[i]
    const outcome = record.outcome[i]
    byStage.fill(0)
    const coldSeconds = until > at ? coldTime.add(at, until, byStage) : 0
    if (foundCold(outcome, served, coldSeconds, record.rejectCause[i])) count(over.foundCold, at)
    if (outcome === Outcome.rejected) {
      refused.add(at, until - at)
      byCause[record.rejectCause[i]]++
      count(over.refused, at)
    } else if (outcome === Outcome.abandoned) {
      gaveUp.add(at, until - at)
      if (coldSeconds > 0) gaveUpCold++
      count(over.gaveUp, at)
    } else if (outcome === Outcome.failed) failed.add(at, until - at)
    else if (!served) waiting.add(at, until - at)
    else if (coldSeconds > 0) {
      const { group, waits } = cold[byStage.indexOf(Math.max(...byStage))]
      group.add(at, until - at)
      waits.push(until - at)
      count(over.cold, at)
    } else warm.add(at, until - at)
  }
  const { asleep, queueFull, rateLimited, tooLarge } = RejectCause
  return {
    className,
    arrivals: [warm, refused, gaveUp, failed, waiting, ...cold.map((c) => c.group)].reduce((sum, g) => sum + g.callers, 0),
    warm: warm.told(),
    cold: cold.flatMap(({ group, waits }, s) =>
      waits.length === 0
        ? []
        : [{ stage: COLD_STAGES[s], ...group.told(), medianSeconds: percentile(Float64Array.from(waits).sort(), 0.5) ?? 0 }],
    ),
    refused: {
      ...refused.told(),
      asleep: byCause[asleep],
      queueFull: byCause[queueFull],
      rateLimited: byCause[rateLimited],
      tooLarge: byCause[tooLarge],
    },
    gaveUp: { ...gaveUp.told(), cold: gaveUpCold },
    failed: failed.told(),
    waiting: waiting.told(),
    overTime: { pieceSeconds, ...over },
  }
}

const zeros = (n: number) => new Array<number>(n).fill(0)

function foundCold(outcome: number, served: boolean, coldSeconds: number, cause: number): boolean {
  if (outcome === Outcome.rejected) return cause === RejectCause.asleep
  return coldSeconds > 0 && outcome !== Outcome.failed && (served || outcome === Outcome.abandoned)
}

/** Callers who found it cold: they waited for a start-up, gave up on the way, or were turned away asleep. */
export function coldCallers({ cold, gaveUp, refused }: Pick<CallersMet, 'cold' | 'gaveUp' | 'refused'>): number {
  return cold.reduce((sum, c) => sum + c.callers, 0) + gaveUp.cold + refused.asleep
}

const WEEK_SECONDS = 7 * 86_400

/** So many of the counted time as they would be in a week. */
export function aWeek(callers: number, { seconds, warmupSeconds }: Plan['horizon']): number {
  return (callers * WEEK_SECONDS) / (seconds - warmupSeconds)
}
