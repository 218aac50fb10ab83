import { HOURS_PER_MONTH } from '../cost/money.ts'
import { eachPaid, type TokenPrices } from '../cost/tokens.ts'
import { weekPlace } from '../demand/calendar.ts'
import { came, type RunRecord } from '../engine/record.ts'
import type { StepSeries } from '../measure/fleetPicture.ts'
import type { Plan } from '../plan/schema.ts'
import type { Guard } from '../plan/guardSchema.ts'
import { paidRun } from '../run/paidRun.ts'
import { run } from '../run/run.ts'
import type { RunSpec } from '../run/spec.ts'
import type { Load } from '../search/load.ts'
import { largestBill } from './largestBill.ts'

/** A day or month in which the guard stopped the service: from then on nobody is served until it is over. */
export interface GuardStop {
  /** the day or month, seconds of the horizon; it may begin before it and end after it */
  periodFrom: number
  stoppedAt: number
  periodUntil: number
}

/** What a guard does: to the callers of the plan, and against strangers. */
export interface GuardReport extends Guard {
  /** days of the horizon, or the month */
  periods: number
  /** draws of the load on which it stops the service, of how many; what follows is of the first that it stops, or of the first of all */
  stoppedDraws: number
  draws: number
  stops: GuardStop[]
  callers: number
  turnedAway: number
  /** the period in which most is spent without a guard */
  fullest: { from: number; spent: number }
  /** strangers who ask for all there is from the begin of a period on: after what the budget is spent, and the share of the callers that
   * is turned away then; null where they can not spend it */
  strangers: { spentAfterSeconds: number; turnedAwayShare: number } | null
  /** what a month can cost at the most */
  mostPerMonth: number
  /** what is committed to is paid all the same, a month */
  committedPerMonth: number
}

export const PERIOD_SECONDS = { day: 86_400, month: HOURS_PER_MONTH * 3600 } as const

/** Money over time as it adds up: at `seconds[i]` so much was spent, in between on a line. */
interface Spent {
  seconds: number[]
  money: number[]
}

/**
 * Runs a configuration on every draw of the load and stops it wherever the budget of a period is spent. Until then all is as run without
 * a guard; whoever comes between then and the end of the period is turned away. The next period begins as it was run. A horizon that is
 * shorter than a period stands for it, over and over.
 *
 * @returns null for a service without a guard
 */
export function guardOf(plan: Plan, spec: RunSpec, load: Load): GuardReport | null {
  const { guard } = spec.service
  if (!guard) return null
  const draws = load.repetitions(spec.service)
  const told = Array.from({ length: draws }, (_, r) => drawOf(plan, spec, load, r, guard))
  const first = told.find((d) => d.stops.length > 0) ?? told[0]
  const { horizon } = plan
  const period = PERIOD_SECONDS[guard.every]
  const { perMonth } = largestBill(plan, spec.candidate, spec.groups)
  // Where nothing is committed to there may be no such price.
  const committedPerMonth = first.committedGroups > 0 ? first.committedGroups * spec.candidate.prices.committedPerHour * HOURS_PER_MONTH : 0
  const spentAfterSeconds = perMonth === Infinity ? 0 : (guard.budget / perMonth) * PERIOD_SECONDS.month
  return {
    ...guard,
    periods: first.periods,
    stoppedDraws: told.filter((d) => d.stops.length > 0).length,
    draws,
    stops: first.stops,
    callers: first.callers,
    turnedAway: first.turnedAway,
    fullest: first.fullest,
    strangers:
      spentAfterSeconds < period
        ? { spentAfterSeconds, turnedAwayShare: shareAfter(first.record, horizon, guard.every, spentAfterSeconds) }
        : null,
    mostPerMonth: Math.min(perMonth, Math.max(committedPerMonth, (guard.budget * PERIOD_SECONDS.month) / period)),
    committedPerMonth,
  }
}

function drawOf(plan: Plan, spec: RunSpec, load: Load, repetition: number, guard: Guard) {
  const ran = run(plan, spec, load.of(spec.service, repetition), { repetition, toTheEnd: true })
  const { paid, perHour, committedGroups } = paidRun(plan, spec, ran)
  const { seconds, start } = plan.horizon
  const { tokens } = spec.candidate.prices
  const spent = tokens ? spentOnTokens(ran.record, tokens, seconds) : spentOf(paid, perHour, seconds)
  const within = periodsOf(start, seconds, guard.every)
  const found = within.map((p) => ({ ...p, ...stopOf(spent, seconds, p, guard.budget) }))
  const stops = found.flatMap(({ from, until, stoppedAt }) =>
    stoppedAt === null ? [] : [{ periodFrom: from, stoppedAt, periodUntil: until }],
  )
  const fullest = found.reduce((a, b) => (b.spent > a.spent ? b : a))
  return {
    ...callersOf(ran.record, stops, within, seconds),
    record: ran.record,
    stops,
    periods: within.length,
    committedGroups,
    fullest: { from: fullest.from, spent: fullest.spent },
  }
}

/** What is paid, added up; what rounding and fetching add to the whole is spread as the rest is. */
function spentOf(paid: StepSeries, perHour: number, horizonSeconds: number): Spent {
  const seconds = [...paid.seconds.filter((s) => s < horizonSeconds), horizonSeconds]
  const money = [0]
  for (let i = 1; i < seconds.length; i++) money.push(money[i - 1] + (paid.values[i - 1] * (seconds[i] - seconds[i - 1])) / 3600)
  const whole = money[money.length - 1]
  const factor = whole > 0 ? (perHour * horizonSeconds) / 3600 / whole : 0
  // What is paid without anything to be seen over time is spread evenly.
  if (factor === 0) return { seconds: [0, horizonSeconds], money: [0, (perHour * horizonSeconds) / 3600] }
  return { seconds, money: money.map((m) => m * factor) }
}

/** Each request is paid at one go, when it is begun. */
function spentOnTokens(record: RunRecord, prices: TokenPrices, horizonSeconds: number): Spent {
  const each: { start: number; cost: number }[] = []
  eachPaid(record, prices, (cost, start) => void (start < horizonSeconds && each.push({ start, cost })))
  each.sort((a, b) => a.start - b.start)
  const [seconds, money] = [[0], [0]]
  let sum = 0
  const at = (t: number) => void (seconds.push(t), money.push(sum))
  for (const { start, cost } of each) {
    at(start)
    sum += cost
    at(start)
  }
  at(horizonSeconds)
  return { seconds, money }
}

interface Period {
  from: number
  until: number
  /** a horizon that is shorter stands for it, over and over */
  repeats: boolean
}

/** Days by the clock of the start, of which the first and the last may be cut, or months from the start on. */
function periodsOf(start: string, horizonSeconds: number, every: Guard['every']): Period[] {
  const length = PERIOD_SECONDS[every]
  if (horizonSeconds < length) return [{ from: 0, until: length, repeats: true }]
  const into = every === 'day' ? weekPlace(start).secondOfWeek % length : 0
  const count = every === 'day' ? Math.ceil((into + horizonSeconds) / length) : Math.floor(horizonSeconds / length)
  return Array.from({ length: count }, (_, i) => ({ from: i * length - into, until: (i + 1) * length - into, repeats: false }))
}

/** When in a period the budget is spent, and what all of it costs without a guard. */
function stopOf(spent: Spent, horizonSeconds: number, period: Period, budget: number): { stoppedAt: number | null; spent: number } {
  const [from, until] = seenOf(period, horizonSeconds)
  const [before, whole] = [moneyAt(spent, horizonSeconds, from), moneyAt(spent, horizonSeconds, until)]
  const stoppedAt = whole - before > budget ? whenSpent(spent, horizonSeconds, before + budget) : null
  return { stoppedAt, spent: whole - before }
}

/** As much of a period as is run: what lies in the horizon, or all of it where that goes on over and over. */
function seenOf({ from, until, repeats }: Period, horizonSeconds: number): [number, number] {
  return [Math.max(0, from), repeats ? until : Math.min(until, horizonSeconds)]
}

/** Spent before a time, the horizon over and over. */
function moneyAt({ seconds, money }: Spent, horizonSeconds: number, at: number): number {
  const rounds = Math.floor(at / horizonSeconds)
  const rest = at - rounds * horizonSeconds
  const i = Math.max(
    0,
    seconds.findLastIndex((s) => s < rest),
  )
  const share = rest > 0 ? (rest - seconds[i]) / (seconds[i + 1] - seconds[i]) : 0
  return rounds * money[money.length - 1] + money[i] + share * (money[i + 1] - money[i])
}

/** The first time at which so much was spent. */
function whenSpent({ seconds, money }: Spent, horizonSeconds: number, wanted: number): number {
  const whole = money[money.length - 1]
  const rounds = Math.floor(wanted / whole)
  const rest = wanted - rounds * whole
  const i = Math.max(
    1,
    money.findIndex((m) => m >= rest),
  )
  const more = money[i] - money[i - 1]
  return rounds * horizonSeconds + seconds[i - 1] + (more > 0 ? ((rest - money[i - 1]) / more) * (seconds[i] - seconds[i - 1]) : 0)
}

/** Who comes in these periods, and who of them while it is stopped; first attempts, the horizon over and over. */
function callersOf(record: RunRecord, stops: readonly GuardStop[], periods: readonly Period[], horizonSeconds: number) {
  const times = Array.from({ length: record.requests.count }, (_, i) => i)
    .filter((i) => came(record, i) && record.at[i] < horizonSeconds)
    .map((i) => record.at[i])
    .sort((a, b) => a - b)
  const until = (seconds: number) => {
    const rounds = Math.floor(seconds / horizonSeconds)
    return rounds * times.length + below(times, seconds - rounds * horizonSeconds)
  }
  const between = (from: number, to: number) => until(to) - until(from)
  return {
    callers: periods.reduce((sum, p) => sum + between(...seenOf(p, horizonSeconds)), 0),
    // Whoever spends the last of it is served, and those who come at the same moment.
    turnedAway: stops.reduce(
      (sum, s) => sum + between(s.stoppedAt + 1e-9, periods[0].repeats ? s.periodUntil : Math.min(s.periodUntil, horizonSeconds)),
      0,
    ),
  }
}

/** How many of sorted times are smaller. */
function below(times: readonly number[], at: number): number {
  let [low, high] = [0, times.length]
  while (low < high) {
    const middle = (low + high) >> 1
    if (times[middle] < at) low = middle + 1
    else high = middle
  }
  return low
}

/** Of the callers of a period those who come later than so long after its begin: by the hours of a day that is run, or alike. */
function shareAfter(
  record: RunRecord,
  { start, seconds: horizonSeconds }: Plan['horizon'],
  every: Guard['every'],
  seconds: number,
): number {
  if (every === 'month' || horizonSeconds < PERIOD_SECONDS.day) return 1 - seconds / PERIOD_SECONDS[every]
  const into = weekPlace(start).secondOfWeek
  let [all, after] = [0, 0]
  for (let i = 0; i < record.requests.count; i++) {
    if (!came(record, i) || record.at[i] >= horizonSeconds) continue
    all++
    if ((into + record.at[i]) % PERIOD_SECONDS.day >= seconds) after++
  }
  return all > 0 ? after / all : 0
}
