import { HOURS_PER_MONTH } from '../cost/money.ts'
import { duration } from '../units/duration.ts'
import { grouped, threeDigits } from '../units/number.ts'
import { price } from '../units/price.ts'
import type { SmallLoad, SmallLoadSeen } from './smallLoad.ts'
import { ENDINGS, type Branch, type Session } from './session.ts'

const HOUR_SECONDS = 3600

/** A session in a sentence each, without a full stop. */
export function sessionWords({ asked, currency, startUpSeconds, seconds, cost, seen, forgettingSeconds }: Session): string[] {
  const { requests, pauseSeconds, load } = asked
  const use =
    load && seen
      ? loadWords(load, seen)
      : requests === 1
        ? 'one request'
        : `${requests} requests, each ${duration(pauseSeconds)} after the one before`
  const begin = startUpSeconds > 0 ? `${duration(startUpSeconds)} of start-up, ${load ? 'and ' : 'then '}` : ''
  return [
    `it takes ${duration(seconds)}: ${begin}${use}; it costs ${price(cost, currency)}`,
    `forgetting it costs more than the session itself from ${duration(forgettingSeconds)} after its end on`,
  ]
}

/** What came of a small load. */
function loadWords({ perHour, seconds }: SmallLoad, { requests, p50Seconds, p95Seconds }: SmallLoadSeen): string {
  const came = `${grouped(requests, 0)} requests over ${duration(seconds)} (${threeDigits(perHour)} an hour, as chance has it)`
  return p50Seconds === undefined
    ? came
    : `${came}, half of them answered within ${duration(p50Seconds)} of their call and 95 of 100 within ${duration(p95Seconds)}`
}

/** After some time from the start, what a branch has cost. */
export function costAt({ course, perMonth }: Branch, seconds: number): number {
  const after = course.findIndex((p) => p.seconds >= seconds)
  if (after === 0) return course[0].cost
  if (after < 0) {
    const last = course[course.length - 1]
    return last.cost + (perMonth / HOURS_PER_MONTH / HOUR_SECONDS) * (seconds - last.seconds)
  }
  const [a, b] = [course[after - 1], course[after]]
  return a.cost + ((b.cost - a.cost) * (seconds - a.seconds)) / (b.seconds - a.seconds)
}

/** After the end: when one looks. */
export const LOOKED_AT = [
  { words: 'at its end', seconds: 0 },
  { words: 'a day later', seconds: 24 * HOUR_SECONDS },
  { words: 'a week later', seconds: 168 * HOUR_SECONDS },
  { words: 'a month later', seconds: HOURS_PER_MONTH * HOUR_SECONDS },
] as const

/** Branches as rows: how it ends, what it has cost at the times of {@link LOOKED_AT}, what is left over. */
export function branchRows({ branches, seconds, currency }: Session): string[][] {
  return branches.map((b) => [
    ENDINGS[b.ending],
    ...LOOKED_AT.map((l) => price(costAt(b, seconds + l.seconds), currency)),
    b.left.length === 0 ? 'nothing' : `${b.left.join(', ')}${b.perMonth > 0 ? `, ${price(b.perMonth, currency)} a month` : ''}`,
  ])
}
