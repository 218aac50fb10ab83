import { costWithCommitted } from '../cost/bill.ts'
import { interval95 } from '../measure/interval.ts'
import type { Found } from './found.ts'
import { ordered, type Steps } from './order.ts'

/** So many draws are made at the most to tell what two options cost apart; a tie is said to be one then. */
export const MOST_DRAWS = 12
const DRAWS_AT_ONCE = 3

/**
 * Runs further draws of options whose costs the plan's own draws leave open, the same for both, until the interval of their
 * difference lies on one side of 0. What an option costs stays the mean over the plan's own draws.
 *
 * @returns the chosen one and its rivals in their order, with what every draw cost
 */
export function* decided(service: string, chosen: Found, rivals: readonly Found[]): Steps<undefined, { chosen: Found; rivals: Found[] }> {
  let first = chosen
  const out: Found[] = []
  for (const rival of rivals) {
    let other = rival
    while (isOpen(first, other) && other.perHourByDraw.length < MOST_DRAWS) {
      const draws = Math.min(MOST_DRAWS, other.perHourByDraw.length + DRAWS_AT_ONCE)
      first = yield* withDraws(service, first, draws)
      other = yield* withDraws(service, other, draws)
    }
    out.push(other)
  }
  return { chosen: first, rivals: out }
}

/** Whether the draws that both have leave open which costs less. What costs the same in every draw is a tie for good. */
function isOpen(a: Found, b: Found): boolean {
  const differences = b.perHourByDraw.map((cost, r) => cost - a.perHourByDraw[r])
  const interval = interval95(differences)
  return interval !== undefined && interval.runs > 1 && interval.low <= 0 && interval.high >= 0 && interval.low < interval.high
}

/** The same option with what so many draws cost; what is known already is not run again. */
function* withDraws(service: string, found: Found, draws: number): Steps<undefined, Found> {
  const { candidate, groups, committedGroups, perHourByDraw, perHour } = found
  const missing = Array.from({ length: Math.max(0, draws - perHourByDraw.length) }, (_, i) => perHourByDraw.length + i)
  if (missing.length === 0) return found
  if (!candidate.paysByRun) return { ...found, perHourByDraw: [...perHourByDraw, ...missing.map(() => perHour)] }
  const results = yield* ordered(
    missing.map((repetition) => ({ service, candidate: candidate.index, groups, repetition, loadFactor: 1, toTheEnd: true })),
    undefined,
  )
  return {
    ...found,
    perHourByDraw: [...perHourByDraw, ...results.map((r) => costWithCommitted(r.perHourByCommitted, committedGroups, candidate.prices))],
  }
}
