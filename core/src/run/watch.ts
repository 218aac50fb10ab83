import { isClosedLoop } from '../plan/arrivalKinds.ts'
import { remembered } from '../demand/remembered.ts'
import { countByClass, type Requests } from '../demand/requests.ts'
import { MissWatch, type WatchedTarget } from '../engine/missWatch.ts'
import { targetsOf, type PlacedTarget } from '../measure/placedTargets.ts'
import { HOUR_SECONDS, hourOf, leastOfHour } from '../measure/readingHours.ts'
import { allowedMisses, limitOf } from '../measure/targets.ts'
import type { Plan, RequestClass, Service, Target } from '../plan/schema.ts'

/** A run that was stopped when one target could not be kept any more. */
export interface Broken {
  kind: 'broken'
  placed: PlacedTarget
  misses: number
  /** of the whole horizon, or of the hour where the hour is read */
  considered: number
}

/** Looks on at a run of requests, or of some of them, and stops it when so many missed as of all of them may not. */
export class TargetWatch {
  readonly watch: MissWatch
  private readonly placed: readonly PlacedTarget[]
  private readonly counted: Counted

  constructor(plan: Plan, service: Service, requests: Requests) {
    this.placed = targetsOf(plan, service)
    this.counted = countedOf(plan, requests)
    this.watch = new MissWatch(
      this.placed.map((p) => watchedTarget(plan, p, this.counted, requests)),
      plan.classes.length,
      plan.horizon.warmupSeconds,
    )
  }

  /** What stopped the run. */
  said(): Broken {
    const { broken, brokenPiece, misses } = this.watch
    const placed = this.placed[broken]
    const { classIndex, target } = placed
    return {
      kind: 'broken',
      placed,
      misses: misses[broken][brokenPiece],
      considered: byHour(target) ? this.counted.byHour[classIndex][brokenPiece] : this.counted.countable[classIndex],
    }
  }
}

/** What is counted of requests before they are run. */
interface Counted {
  /** the most of each class that may count */
  countable: number[]
  /** counted arrivals of each class in each hour of the horizon */
  byHour: Float64Array[]
}

function countedOf(plan: Plan, requests: Requests): Counted {
  const {
    classes,
    horizon: { seconds, warmupSeconds },
  } = plan
  return remembered(requests, `counted, ${classes.length} classes, ${seconds} s from ${warmupSeconds} s`, () => ({
    countable: countable(plan, requests),
    byHour: arrivalsOfHours(plan, requests),
  }))
}

/**
 * The most requests of each class that may count. Followers may come later than they would if answers took no time, and so
 * after the warm-up: all of a class that has some may.
 */
function countable(plan: Plan, requests: Requests): number[] {
  const counted = countByClass(requests, plan.classes.length, plan.horizon.warmupSeconds)
  if (!requests.chain) return counted
  const all = countByClass(requests, plan.classes.length)
  return counted.map((n, c) => (mayFollow(plan.classes[c]) ? all[c] : n))
}

const mayFollow = (c: RequestClass) => c.turns !== undefined || isClosedLoop(c.arrivals)

function watchedTarget(
  plan: Plan,
  { target, classIndex, waySeconds }: PlacedTarget,
  { countable, byHour: arrivals }: Counted,
  requests: Requests,
): WatchedTarget {
  const measure = target.measure === 'throughput' ? 'lost' : target.measure
  const watched = { classIndex, measure, seconds: limitOf(target, plan.margin).limit - waySeconds }
  if (!byHour(target))
    return { ...watched, pieceSeconds: Infinity, allowedMisses: [allowedMisses(target, countable[classIndex]) ?? Infinity] }
  // When followers come depends on the run: nobody knows beforehand how many there are in an hour.
  const known = requests.chain === undefined
  const allowed = remembered(
    requests,
    `allowed of class ${classIndex}, ${arrivals[classIndex].length} hours, ${plan.horizon.warmupSeconds}, ${JSON.stringify(target)}`,
    () =>
      arrivals[classIndex].map((n) => (known && n >= leastOfHour(target.percentile) ? (allowedMisses(target, n) ?? Infinity) : Infinity)),
  )
  return { ...watched, pieceSeconds: HOUR_SECONDS, allowedMisses: allowed }
}

function byHour(target: Target): target is Extract<Target, { percentile: number }> {
  return target.measure !== 'lost' && target.measure !== 'throughput' && target.over === 'worst-hour'
}

/** How many counted requests of each class arrive in each hour of the horizon. */
function arrivalsOfHours({ classes, horizon }: Plan, requests: Requests): Float64Array[] {
  const out = classes.map(() => new Float64Array(hourOf(horizon.seconds) + 2))
  const { at, classIndex, count } = requests
  for (let i = 0; i < count; i++) if (at[i] >= horizon.warmupSeconds) out[classIndex[i]][hourOf(at[i])]++
  return out
}
