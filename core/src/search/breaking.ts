import type { Found } from './found.ts'
import type { Plan, Target } from '../plan/schema.ts'
import { ordered, type Missed, type Steps, type TrialOrder } from './order.ts'

/** Multiples of the load that are tried: twentieths at first, coarser where a twentieth decides nothing. */
const MULTIPLES = [1, 1.05, 1.1, 1.15, 1.2, 1.25, 1.3, 1.35, 1.4, 1.5, 1.6, 1.7, 1.8, 2, 2.2, 2.4, 2.7, 3, 3.5, 4]

/** How far a load may grow until a configuration misses a target. */
export interface Borne {
  /** the largest tried multiple of the load with which every target still holds */
  holdsAt: number
  /** the smallest tried multiple with which one is missed; null when even the largest tried holds */
  breaksAt: number | null
  /** the class whose target goes first, and which */
  className: string | null
  measure: Target['measure'] | null
}

export interface Breaking extends Borne {
  /** which of the next best still holds where this one breaks, the cheapest first; null when none does */
  next: number | null
  /** the same when only one class grows, for each class where there are several */
  byClass: (Borne & { grown: string })[]
}

/**
 * How far the load of a service may grow, all classes alike, until a configuration misses a target (first repetition), and
 * then each class alone. The next best are tried with the load that broke it.
 */
export function* breakingLoad({ classes }: Plan, service: string, found: Found, others: readonly Found[]): Steps<undefined, Breaking> {
  const all = yield* borne(service, found, undefined)
  const { breaksAt } = all
  const then =
    breaksAt === null || others.length === 0
      ? []
      : yield* ordered(
          others.map((o) => orderAt(service, o, breaksAt, undefined)),
          undefined,
        )
  const next = then.findIndex((r) => r.holds)
  const names = classes.filter((c) => c.service === service).map((c) => c.name)
  const byClass: Breaking['byClass'] = []
  if (names.length > 1) for (const grown of names) byClass.push({ grown, ...(yield* borne(service, found, grown)) })
  return { ...all, next: next < 0 ? null : next, byClass }
}

/**
 * To a twentieth of the plan's load near it and a sixth beyond twice, by growing steps and then two tries at a time between
 * the last that held and the first that did not.
 */
function* borne(service: string, found: Found, grown: string | undefined): Steps<undefined, Borne> {
  let low = 0
  let high = Infinity
  let missed: Missed | null = null
  while (high - low > 1) {
    const tries = high === Infinity ? growing(low) : between(low, high)
    if (tries.length === 0) break
    const results = yield* ordered(
      tries.map((steps) => orderAt(service, found, multiple(steps), grown)),
      undefined,
    )
    for (const [i, steps] of tries.entries()) {
      if (results[i].holds) {
        low = steps
        continue
      }
      high = steps
      missed = results[i].missed
      break
    }
  }
  return {
    holdsAt: multiple(low),
    breaksAt: high === Infinity ? null : multiple(high),
    className: missed?.className ?? null,
    measure: missed?.target.measure ?? null,
  }
}

const multiple = (steps: number) => MULTIPLES[steps]

function growing(low: number): number[] {
  const next = low === 0 ? [2, 6] : [low + 5, low + 10]
  return [...new Set(next.map((n) => Math.min(MULTIPLES.length - 1, n)))].filter((n) => n > low)
}

function between(low: number, high: number): number[] {
  const third = (high - low) / 3
  return [...new Set([Math.round(low + third), Math.round(low + 2 * third)])].filter((n) => n > low && n < high)
}

function orderAt(service: string, { candidate, groups }: Found, loadFactor: number, grown: string | undefined): TrialOrder {
  return { service, candidate: candidate.index, groups, repetition: 0, loadFactor, toTheEnd: false, ...(grown !== undefined && { grown }) }
}
