import { profileOf } from '../candidate/candidate.ts'
import { statedCandidate } from '../candidate/named.ts'
import { oneReplicaAt } from '../candidate/stated.ts'
import { BadInput } from '../plan/problem.ts'
import type { Plan } from '../plan/schema.ts'
import type { OneAsked } from './asked.ts'
import { busiestRate } from './likely.ts'
import { worldsOf, type World } from './worlds.ts'

/** What a stopwatch may read of a real request. */
export const READ_FIGURES = {
  whole: { words: 'seconds for all of it', of: (t) => t.end },
  first: { words: 'seconds until the first token', of: (t) => t.firstToken },
  speed: { words: 'tokens a second once it writes', of: (t, { output }) => (output - 1) / (t.end - t.firstToken) },
} as const satisfies Record<string, { words: string; of: (times: { firstToken: number; end: number }, asked: OneAsked) => number }>
export type ReadFigure = keyof typeof READ_FIGURES

/** One reading of a real try. */
export interface Reading {
  figure: ReadFigure
  /** above 0 */
  value: number
  /** how many others were in service */
  others: number
}

/** A next try, and what it would leave. */
export interface NextTry {
  /** requests at once, itself included */
  atOnce: number
  seconds: number
  /** null where the machine has no price by the hour */
  price: number | null
  /** between which capacities those that it leaves would lie, in the middle of what it may show */
  low: number
  high: number
}

export interface Proof {
  worlds: number
  kept: number
  /** capacities that are left, requests a second of one replica; null where nothing is left */
  capacity: { low: number; high: number; values: number[] } | null
  /** replicas that the plan's busiest rate would take, with the highest and the lowest of them; null where nothing is borne */
  replicas: { least: number; most: number | null } | null
  next: NextTry | null
  /** why it says so little, if it does */
  remark: string
}

/** A hand at a watch, and what else differs from try to try. */
export const READ_WITHIN = 0.05
const WORLDS = 1500
/** As many are enough to see between which capacities they lie. */
const MOST_KEPT = 60
const FEW_KEPT = 8
const TRIES = [2, 4, 8, 16, 32, 64]
const PRETENDED = 12
/** A try that leaves more than this of what is left settles nothing. */
const SETTLES = 0.85
/** A try is repeated so often, that its first time is no exception. */
const ROUNDS = 5

/**
 * Every way in which it may be that is consistent with what was read, and what they bear: told as it goes, and in the end.
 *
 * @throws BadInput where step costs are not derived, or nothing was read
 */
export function* prove(plan: Plan, asked: OneAsked, read: readonly Reading[]): Generator<{ settled: number; of: number }, Proof> {
  const pricePerHour = checkedPrice(plan, asked, read)
  const worlds = worldsOf(plan, asked, WORLDS)
  const kept: World[] = []
  for (const [i, world] of worlds.entries()) {
    if (isConsistent(world, asked, read)) kept.push(world)
    if (i % 50 === 0) yield { settled: i, of: WORLDS + MOST_KEPT }
  }
  const few = kept.slice(0, MOST_KEPT)
  for (const [i, world] of few.entries()) {
    world.capacity()
    yield { settled: WORLDS + i, of: WORLDS + MOST_KEPT }
  }
  if (few.length === 0) return { worlds: WORLDS, kept: 0, capacity: null, replicas: null, next: null, remark: NOTHING_LEFT }
  const values = few.map((w) => w.capacity()).sort((a, b) => a - b)
  const [low, high] = [values[0], values[values.length - 1]]
  const busiestPerSecond = busiestRate(plan, asked.service)
  const least = Math.max(1, Math.ceil(busiestPerSecond / high))
  return {
    worlds: WORLDS,
    kept: kept.length,
    capacity: { low, high, values },
    replicas: high > 0 ? { least, most: low > 0 ? Math.max(1, Math.ceil(busiestPerSecond / low)) : null } : null,
    next: yield* nextTry(few, asked, pricePerHour),
    remark:
      few.length < FEW_KEPT
        ? `only ${few.length} of ${WORLDS} ways in which it may be are left: what was read is near the end of what is thought possible`
        : '',
  }
}

const NOTHING_LEFT =
  'no step costs within the ranges give what was read: something else took its time (a queue in front, a start-up, another model), or it is faster than is thought possible'

function checkedPrice(plan: Plan, asked: OneAsked, read: readonly Reading[]): number {
  const wrong = (path: string, rule: string) => new BadInput('This reading proves nothing.', [{ path, rule }])
  const service = plan.services.find((s) => s.name === asked.service)
  const candidate = service && statedCandidate(plan, service, oneReplicaAt(service, asked))
  if (!candidate?.fit.fits) throw wrong('machine', 'must be one on which it fits')
  if (profileOf(candidate).kind !== 'token') throw wrong('service', 'must be of a model with tokens')
  if (candidate.fit.source !== 'derived')
    throw wrong('step costs', `are ${candidate.fit.source} for this place already: there is nothing left to be proved`)
  if (read.length === 0) throw wrong('reading', 'is missing: how long did a real try take?')
  if (read.some((r) => !(r.value > 0))) throw wrong('reading', 'must be above 0')
  if (read.some((r) => r.figure === 'speed') && asked.output < 2) throw wrong('answer', 'must have two tokens at least for a speed')
  return candidate.prices.onDemandPerHour
}

/** Whether what was read is what would be seen, to within the accuracy of a reading. */
export function isConsistent(world: World, asked: OneAsked, read: readonly Reading[]): boolean {
  return read.every(({ figure, value, others }) => {
    const seen = world.seen(others)
    return seen !== undefined && Math.abs(READ_FIGURES[figure].of(seen, asked) / value - 1) <= READ_WITHIN
  })
}

/** The try that leaves least, the smallest of those that leave nearly as little; null where none settles anything. */
function* nextTry(
  kept: readonly World[],
  asked: OneAsked,
  pricePerHour: number,
): Generator<{ settled: number; of: number }, NextTry | null> {
  const ratio = (list: readonly number[]) => Math.max(...list) / Math.max(1e-12, Math.min(...list))
  const now = ratio(kept.map((w) => w.capacity()))
  let best: (NextTry & { left: number }) | null = null
  for (const atOnce of TRIES.filter((n) => n <= asked.sequences)) {
    const shown = kept.map((w) => w.seen(atOnce - 1)?.end ?? NaN)
    yield { settled: WORLDS + kept.length, of: WORLDS + MOST_KEPT }
    const after = kept
      .filter((_, i) => i % Math.ceil(kept.length / PRETENDED) === 0)
      .map((w) => {
        const truth = w.seen(atOnce - 1)?.end ?? NaN
        return kept.filter((_, i) => Math.abs(shown[i] / truth - 1) <= READ_WITHIN).map((k) => k.capacity())
      })
      .filter((list) => list.length > 0)
      .sort((a, b) => ratio(a) - ratio(b))
    const middle = after[after.length >> 1]
    if (!middle) continue
    const left = ratio(middle)
    const longest = Math.max(...shown.filter((s) => s === s))
    const seconds = Math.max(60, Math.ceil((ROUNDS * longest) / 60) * 60)
    if (left - 1 < (best?.left ?? now) * SETTLES - 1 + 1e-9)
      best = {
        atOnce,
        seconds,
        price: Number.isFinite(pricePerHour) ? (pricePerHour * seconds) / 3600 : null,
        low: Math.min(...middle),
        high: Math.max(...middle),
        left,
      }
  }
  if (!best) return null
  const { left: _, ...next } = best
  return next
}
