import { aWeek, coldCallers, type CallersMet, type Met } from '../measure/callersMet.ts'
import type { ClassSummary } from '../measure/summary.ts'
import type { Plan } from '../plan/schema.ts'
import { clock, duration } from '../units/duration.ts'
import { grouped, percent, threeDigits } from '../units/number.ts'

/**
 * What callers met, a sentence a class without its full stop.
 *
 * @example 'pilot desk: 12 330 of 12 345 callers found a ready replica; 9 waited for the machine, at the longest 2 min 37 s, …'
 */
export function callersWords({ horizon }: Plan, met: readonly CallersMet[]): string[] {
  return met.map((m) => {
    if (m.arrivals === 0) return `${m.className}: nobody calls in the counted time`
    const when = (g: Met) => (g.first === null || g.last === null ? '' : ` (${whenWords(horizon.start, g.first, g.last)})`)
    const waited = (g: Met) => (g.longestSeconds > 0 ? `, at the longest ${duration(g.longestSeconds)}` : '')
    const all = m.warm.callers === m.arrivals
    const warm = `${all ? (m.arrivals === 1 ? 'the one caller' : `all ${grouped(m.arrivals, 0)} callers`) : `${grouped(m.warm.callers, 0)} of ${callers(m.arrivals)}`} found a ready replica${m.warm.longestSeconds > 0 ? ` and waited ${duration(m.warm.longestSeconds)} at the longest` : ''}`
    const cold = m.cold.map(
      (c) =>
        `${callers(c.callers)} waited for ${STAGE_NAMES[c.stage]}${c.callers > 1 ? `, half of them ${duration(c.medianSeconds)} or more` : ''}${waited(c)}${when(c)}`,
    )
    const why = refusedWhy(m.refused)
    const groups = [
      m.refused.callers > 0 ? `${callers(m.refused.callers)} ${were(m.refused)} turned away${why}${when(m.refused)}` : '',
      m.gaveUp.callers > 0
        ? `${callers(m.gaveUp.callers)} gave up${m.gaveUp.cold > 0 ? `, ${grouped(m.gaveUp.cold, 0)} of them waiting for a start-up` : ''}${waited(m.gaveUp)}${when(m.gaveUp)}`
        : '',
      m.failed.callers > 0 ? `${callers(m.failed.callers)} lost their replica for good${when(m.failed)}` : '',
      m.waiting.callers > 0 ? `${callers(m.waiting.callers)} still ${m.waiting.callers === 1 ? 'waits' : 'wait'} at the end` : '',
    ]
    return `${m.className}: ${[warm, ...cold, ...groups].filter(Boolean).join('; ')}${weekWords(m, horizon)}`
  })
}

const callers = (n: number) => `${grouped(n, 0)} ${n === 1 ? 'caller' : 'callers'}`
const were = ({ callers: n }: Met) => (n === 1 ? 'was' : 'were')

function whenWords(start: string, first: number, last: number): string {
  const [from, until] = [clock(start, first), clock(start, last)]
  return from === until ? from : `${from} to ${until}`
}

/** What a stage is called by who waits for it. */
const STAGE_NAMES: Record<CallersMet['cold'][number]['stage'], string> = {
  'waiting for room': 'room on a machine',
  machine: 'the machine',
  image: 'the image',
  weights: 'the weights',
  load: 'loading',
  'warm-up': 'the warm-up',
  'start-up': 'the start-up',
}

function refusedWhy({ callers: n, asleep, queueFull, rateLimited, tooLarge }: CallersMet['refused']): string {
  const causes = [
    [asleep, 'it slept'],
    [queueFull, 'the queue was full'],
    [rateLimited, 'above their rate limit'],
    [tooLarge, 'too large'],
  ] as const
  const there = causes.filter(([count]) => count > 0)
  return there.length === 0 ? '' : `, ${there.map(([count, why]) => (count === n ? why : `${why}: ${grouped(count, 0)}`)).join(', ')}`
}

/** Cold callers of a week, where what is counted is not one. */
function weekWords(m: CallersMet, horizon: Plan['horizon']): string {
  const cold = coldCallers(m)
  if (cold === 0 || Math.abs(1 - 1 / aWeek(1, horizon)) < 0.1) return ''
  return `; that would be ${threeDigits(aWeek(cold, horizon))} cold callers a week`
}

/**
 * Classes of which some are turned away, give up or are lost though nothing is promised about it: what has to be said before anything is
 * recommended. A sentence each, without a full stop.
 */
export function unpromisedLosses(plan: Plan, classes: readonly Pick<ClassSummary, 'className' | 'counts'>[]): string[] {
  return classes.flatMap(({ className, counts: { arrivals, rejected, abandoned, failed } }) => {
    const promised = plan.classes.find((c) => c.name === className)?.targets.some((t) => t.measure === 'lost')
    const lost = rejected + abandoned + failed
    if (promised || lost === 0) return []
    return [
      `It loses ${percent(lost / arrivals)} of the callers of ${className} (${grouped(lost, 0)} of ${grouped(arrivals, 0)} are turned away, give up or fail), and nothing is promised about losses`,
    ]
  })
}
