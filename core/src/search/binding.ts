import { LateSplit, type LateSums } from '../engine/lateSplit.ts'
import { Meter } from '../engine/meter.ts'
import type { Requests } from '../demand/requests.ts'
import type { LifeRecord } from '../life/startRules.ts'
import { limitSeconds } from '../measure/targets.ts'
import { valueAt } from '../measure/fleetPicture.ts'
import type { Plan, Service } from '../plan/schema.ts'
import type { Found } from './found.ts'
import { fleetOf, type LimitedBy } from '../candidate/candidate.ts'
import { run } from '../run/run.ts'
import { targetsOf } from '../measure/placedTargets.ts'
import type { TokenProfile } from '../service/profile.ts'

/** What gives way first under a load that breaks a promise. */
export type BindingPart =
  /** callers wait for capacity that is on its way: for machines, or for what follows until they are ready */
  | { part: 'machines that come' | 'start-up'; share: number }
  /** they wait while all that may be there is there; `limitedBy` says what keeps more from coming */
  | { part: 'maximum'; share: number; limitedBy: LimitedBy; replicas: number }
  /** they wait although more might come: the policy asks for it too late */
  | { part: 'policy'; share: number; wanted: number; most: number }
  /** they wait for a fixed number of replicas whose caches are full, or whose sequence limit is reached, or that are all busy */
  | { part: 'cache' | 'sequence limit' | 'replicas'; share: number; used: number }
  /** they are served, but too slowly: a step takes as long as memory is read, or as long as is reckoned */
  | { part: 'bandwidth' | 'arithmetic' | 'own work'; share: number }

const PIECES = 500
const FULL = 0.9

/**
 * Runs a configuration under the load that broke it (first draw) and says where the time of its late requests went in the
 * stretch with most of them, and what bounds it there. Undefined when none is late, as when only lost requests break it.
 */
export function bindingPart(plan: Plan, service: Service, found: Found, requests: Requests): BindingPart | undefined {
  const { candidate, profile, groups } = found
  const { seconds } = plan.horizon
  const limits = targetsOf(plan, service).flatMap(({ classIndex, target, waySeconds }) =>
    target.measure === 'lost' || target.measure === 'throughput'
      ? []
      : [{ classIndex, measure: target.measure, seconds: limitSeconds(target, plan.margin) - waySeconds }],
  )
  const meter = new Meter(seconds, PIECES)
  const late = new LateSplit(requests.count, limits, plan.classes.length, seconds, PIECES, {
    fromSeconds: plan.horizon.warmupSeconds,
    untilBroken: true,
  })
  const { replicas } = fleetOf(candidate, groups)
  const { life } = run(plan, { service: candidate.service, candidate, groups }, requests, { observers: { meter, late }, toTheEnd: true })
  const width = seconds / PIECES
  let worst: { piece: number; sums: LateSums } | undefined
  for (let piece = Math.ceil(plan.horizon.warmupSeconds / width); piece < PIECES; piece++) {
    const sums = late.between(piece * width, (piece + 1) * width)
    if (sums.late > (worst?.sums.late ?? 0)) worst = { piece, sums }
  }
  if (!worst) return undefined
  const { piece, sums } = worst
  const total = sums.machineSeconds + sums.startUpSeconds + sums.queueSeconds + sums.othersSeconds + sums.ownSeconds
  const starting = sums.machineSeconds + sums.startUpSeconds
  const served = sums.othersSeconds + sums.ownSeconds
  const share = (part: number) => (total > 0 ? part / total : 0)
  if (starting >= sums.queueSeconds && starting >= served)
    return { part: sums.machineSeconds > sums.startUpSeconds ? 'machines that come' : 'start-up', share: share(starting) }
  if (served > sums.queueSeconds)
    return { part: profile.kind === 'token' ? slowPart(profile, meter, piece) : 'own work', share: share(served) }
  if (candidate.elastic && life) return queueOfElastic(life, found, (piece + 0.5) * width, share(sums.queueSeconds))
  return { ...queueOfFixed(found, meter, piece, replicas), share: share(sums.queueSeconds) }
}

function queueOfElastic(life: LifeRecord, { candidate, groups }: Found, at: number, share: number): BindingPart {
  const most = candidate.policy?.max ?? fleetOf(candidate, groups).replicas
  const wanted = valueAt({ seconds: life.wanted.map((w) => w.seconds), values: life.wanted.map((w) => w.replicas) }, at)
  const placed = fleetOf(candidate, groups).replicas
  return wanted >= Math.min(most, placed)
    ? { part: 'maximum', share, limitedBy: candidate.limitedBy, replicas: Math.min(most, placed) }
    : { part: 'policy', share, wanted, most }
}

function queueOfFixed(
  { candidate, profile }: Found,
  meter: Meter,
  piece: number,
  replicas: number,
): { part: 'cache' | 'sequence limit' | 'replicas'; used: number } {
  const busy = meter.busySeconds[piece]
  const cache =
    profile.kind === 'token' && Number.isFinite(profile.cacheTokens)
      ? meter.cacheTokenSeconds[piece] / Math.max(1e-9, busy) / profile.cacheTokens
      : 0
  const batch = busy > 0 ? meter.batchSeconds[piece] / busy / candidate.sequences : 0
  if (cache >= FULL) return { part: 'cache', used: cache }
  return batch >= FULL && candidate.sequences > 1
    ? { part: 'sequence limit', used: batch }
    : { part: 'replicas', used: busy / (meter.pieceSeconds * replicas) }
}

/** Which of the two a decode step with the mean batch of a stretch waits for. */
function slowPart(profile: TokenProfile, meter: Meter, piece: number): 'bandwidth' | 'arithmetic' {
  const busy = Math.max(1e-9, meter.busySeconds[piece])
  const n = Math.min(profile.maxSequences, Math.max(1, Math.round(meter.batchSeconds[piece] / busy)))
  const read = profile.memorySeconds[n] + (profile.cacheSecondsPerToken * meter.cacheTokenSeconds[piece]) / busy
  return read >= profile.arithmeticSeconds[n] ? 'bandwidth' : 'arithmetic'
}
