import { capital } from '../units/capital.ts'
import { clock, duration } from '../units/duration.ts'
import { grouped, percent } from '../units/number.ts'
import { price } from '../units/price.ts'
import type { GuardReport } from './guard.ts'

/** Whether the guard turns the plan's own callers away: then what is promised is not kept. */
export const isStopped = (guard: GuardReport | undefined): boolean => (guard?.stoppedDraws ?? 0) > 0

/** What a guard does to the callers of the plan, and against strangers; a sentence each without a full stop. */
export function guardWords(report: GuardReport, start: string, currency: string): string[] {
  const { budget, every, fullest, strangers, mostPerMonth, committedPerMonth } = report
  const what = `the guard of ${price(budget, currency)} a ${every}`
  const spent = every === 'day' ? `the dearest day begins ${clock(start, Math.max(0, fullest.from))} with` : 'a month comes to'
  const own = isStopped(report)
    ? stopWords(report, what, start)
    : `${capital(what)} stops none of the plan’s own callers: ${spent} ${price(fullest.spent, currency)}`
  const against = strangers
    ? `Strangers who ask for all there is spend it ${strangers.spentAfterSeconds < 1 ? 'at once' : `in ${duration(strangers.spentAfterSeconds)}`}; everybody is turned away then until the ${every} is over, ${percent(strangers.turnedAwayShare)} of the callers of such a ${every}`
    : `Strangers can not spend it in a ${every}`
  const most = strangers
    ? `With it a month costs ${price(mostPerMonth, currency)} at the most, and what is in service when it stops${committedPerMonth > 0 ? '; what is committed to is paid all the same' : ''}`
    : ''
  return [own, against, ...(most ? [most] : [])]
}

function stopWords({ every, stops, periods, callers, turnedAway, stoppedDraws, draws }: GuardReport, what: string, start: string): string {
  const [first] = stops
  const many =
    every === 'day'
      ? `on ${stops.length} of ${periods} days, first from ${clock(start, first.stoppedAt)}`
      : `${duration(first.stoppedAt)} after the month began`
  const doubt = stoppedDraws < draws ? ` (on ${stoppedDraws} of ${draws} draws of the load)` : ''
  return `${capital(what)} stops it ${many}${doubt}: ${grouped(turnedAway, 0)} of ${grouped(callers, 0)} callers, ${percent(turnedAway / callers)}, are turned away`
}

/** What has to be said first: that the plan's own callers are turned away; nothing where none are. */
export const stoppedWords = (report: GuardReport | undefined, start: string, currency: string): string[] =>
  report && isStopped(report) ? guardWords(report, start, currency).slice(0, 1) : []
