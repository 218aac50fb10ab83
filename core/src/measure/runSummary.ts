import type { LateSplit, LateSums } from '../engine/lateSplit.ts'
import type { Meter } from '../engine/meter.ts'
import type { RunRecord } from '../engine/record.ts'
import type { LifeRecord } from '../life/startRules.ts'
import type { Plan } from '../plan/schema.ts'
import { hasTokens, slotsOf, type Profile } from '../service/profile.ts'
import { callersMet, type CallersMet } from './callersMet.ts'
import type { ColdTime } from './coldTime.ts'
import { servingSeconds } from './fleetPicture.ts'
import { summarise, type ClassSummary } from './summary.ts'

/** What one run of a service says as a whole. */
export interface RunSummary {
  classes: ClassSummary[]
  overall: ClassSummary
  /** what the callers of each class met */
  met: CallersMet[]
  /**
   * finished requests and their tokens, per second of the counted time, which ends with the last request where all have ended; tokens null
   * for fixed work
   */
  requestsPerSecond: number
  inputTokensPerSecond: number | null
  outputTokensPerSecond: number | null
  /** over all replicas, from the start of the horizon to its end */
  replicas: ReplicaUse
  /** the same in equal pieces of the horizon */
  overTime: ReplicaUse[]
  pieceSeconds: number
  /** where the time of late requests went */
  late: LateSums
  evictions: number
  /** the largest number of requests that arrived within one second, and the requests that the fleet serves side by side */
  busiestSecond: number
  slots: number
  /** that one replica serves side by side */
  slotsEach: number
}

export interface ReplicaUse {
  /** share of replica time in steps; of a fleet that comes and goes, of the time in which its replicas serve */
  busyShare: number
  /** requests that a step works on, averaged over the time in steps; null when there was none */
  meanBatch: number | null
  /** share of the cache that holds tokens, averaged over all replica time; null for fixed work */
  cacheShare: number | null
}

export interface Observed {
  record: RunRecord
  meter: Meter
  late: LateSplit
  /** how the fleet came and went; null for one that was there all the time */
  life: LifeRecord | null
}

/** @param classes indices of the classes of the service */
export function runSummary(
  plan: Plan,
  classes: readonly number[],
  profile: Profile,
  replicas: number,
  { record, meter, late, life }: Observed,
  cold: ColdTime,
): RunSummary {
  const overall = summarise(plan, record, -1)
  const counted = Math.max(0, lastActivity(record) - plan.horizon.warmupSeconds)
  const perSecond = (n: number) => (counted === 0 ? 0 : n / counted)
  const isToken = hasTokens(profile)
  const use = (first: number, last: number): ReplicaUse => {
    const sum = (values: Float64Array) => values.subarray(first, last).reduce((a, b) => a + b, 0)
    const [from, until] = [first * meter.pieceSeconds, last * meter.pieceSeconds]
    const seconds = life ? servingSeconds(life, from, until, plan.horizon.seconds) : replicas * (until - from)
    const busy = sum(meter.busySeconds)
    return {
      busyShare: seconds === 0 ? 0 : busy / seconds,
      meanBatch: busy === 0 ? null : sum(meter.batchSeconds) / busy,
      cacheShare: profile.kind === 'token' && seconds > 0 ? sum(meter.cacheTokenSeconds) / seconds / profile.cacheTokens : null,
    }
  }
  const pieces = meter.busySeconds.length
  return {
    classes: classes.map((c) => summarise(plan, record, c)),
    overall,
    met: classes.map((c) => callersMet(plan, record, cold, c, plan.classes[c].name)),
    requestsPerSecond: perSecond(overall.counts.finished),
    inputTokensPerSecond: isToken ? perSecond(overall.counts.inputTokens) : null,
    outputTokensPerSecond: isToken ? perSecond(overall.counts.outputTokens) : null,
    replicas: use(0, pieces),
    overTime: Array.from({ length: pieces }, (_, i) => use(i, i + 1)),
    pieceSeconds: meter.pieceSeconds,
    late: late.between(0, plan.horizon.seconds),
    evictions: record.evictions,
    busiestSecond: busiestSecond(record),
    slots: replicas * slotsOf(profile),
    slotsEach: slotsOf(profile),
  }
}

/** When the last request ended; the end of the run where some did not, or more may come. */
function lastActivity({ requests, end, at, endSeconds }: RunRecord): number {
  // A load that goes on has its last arrivals near the end: only one that is over before says when.
  let last = 0
  for (let i = 0; i < requests.count; i++) {
    if (at[i] !== at[i]) continue
    if (end[i] !== end[i]) return endSeconds
    if (end[i] > last) last = end[i]
  }
  return last > 0 && requests.chain !== undefined ? Math.min(last, endSeconds) : endSeconds
}

/** Seconds are those of the clock of the horizon; followers count when they came. */
function busiestSecond({ at, requests }: RunRecord): number {
  const times = requests.chain ? Float64Array.from(at).sort() : at // NaN, who never came, is last
  let most = 0
  let count = 0
  let second = -1
  for (const time of times) {
    const s = Math.floor(time)
    if (s !== s) break
    count = s === second ? count + 1 : 1
    second = s
    if (count > most) most = count
  }
  return most
}
