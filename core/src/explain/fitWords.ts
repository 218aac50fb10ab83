import type { Aspect, ClassFit } from '../demand/fitted/classFit.ts'
import type { SizeFit } from '../demand/fitted/sizeFit.ts'
import { duration } from '../units/duration.ts'
import { grouped, percent, threeDigits } from '../units/number.ts'
import { burstWords } from './classWords.ts'

const UNSAID = 'not in this history; those of the opening are taken'
const DAYS = ['Monday', 'Tuesday', 'Wednesday', 'Thursday', 'Friday', 'Saturday', 'Sunday']

/** One thing that a class of a log is like, and how well that fits. */
export interface FitWords {
  /** an aspect may be left out; the others are always taken */
  about: Aspect | 'count' | 'input' | 'output'
  words: string
  /** whether it is clearly more than chance */
  isClear: boolean
}

/** What a class of a log is like, a sentence each, with how well it fits. */
export function fitWords(fit: ClassFit): FitWords[] {
  const of = (about: Aspect, words: string): FitWords => ({ about, words, isClear: fit.clear.includes(about) })
  const always = (about: FitWords['about'], words: string): FitWords => ({ about, words, isClear: true })
  return [
    always(
      'count',
      `${grouped(fit.count, 0)} requests, ${threeDigits(fit.ratePerSecond)} a second on average over ${duration(fit.seconds)}`,
    ),
    ...(fit.week ? [of('week', weekWords(fit))] : []),
    ...(fit.weekHours ? [of('hours', hoursWords(fit.weekHours))] : []),
    ...(fit.growth ? [of('growth', growthWords(fit))] : []),
    fit.bursts.bursts ? of('bursts', unevenWords(fit)) : always('count', unevenWords(fit)),
    always('input', `prompts: ${fit.unsaid?.includes('input') ? UNSAID : sizeWords(fit.input)}`),
    ...(fit.unsaid?.includes('output') ? [always('output', `answers: ${UNSAID}`)] : []),
    ...(fit.output
      ? [always('output', `answers: ${sizeWords(fit.output)}`), ...(fit.stepSeconds === undefined ? [together(fit, of, always)] : [])]
      : []),
    ...(fit.sessions ? [of('sessions', sessionWords(fit))] : []),
  ]
}

type Say<A> = (about: A, words: string) => FitWords

function together({ correlation, clear }: ClassFit, of: Say<Aspect>, always: Say<FitWords['about']>): FitWords {
  return clear.includes('correlation')
    ? of('correlation', `long prompts have ${correlation < 0 ? 'short' : 'long'} answers: correlation ${threeDigits(correlation)}`)
    : always('output', `prompts and answers are long by themselves: correlation ${threeDigits(correlation)}`)
}

function weekWords({ week }: ClassFit): string {
  if (!week) return ''
  const unseen = week.unseenDays.map((d) => DAYS[d])
  return (
    `hours and days: up to ${threeDigits(week.ratePerSecond)} a second, which explains ${percent(week.explained)} of the differences between hours; ` +
    `what is left is ${threeDigits(week.dispersion)} times pure chance` +
    (unseen.length > 0 ? `; the log has no ${unseen.join(', no ')}, taken as the middle of the other days` : '')
  )
}

function hoursWords(rates: readonly number[]): string {
  return `each hour of the week at its own rate, up to ${threeDigits(Math.max(...rates))} a second: follows what days and hours alone do not`
}

function growthWords({ growth }: ClassFit): string {
  if (!growth) return ''
  return `growth: ${percent(growth.perMonth)} a month (95 % sure of ${percent(growth.low)} to ${percent(growth.high)})`
}

/** What counts and gaps are compared with, whatever of it is then taken. */
function aroundWords(clear: readonly Aspect[]): string {
  if (clear.includes('hours')) return 'the rate of each hour of the week'
  return clear.includes('week') ? 'the rate of their hours and days' : 'one rate'
}

function unevenWords({ bursts, clear, stepSeconds }: ClassFit): string {
  if (stepSeconds !== undefined)
    return `these are means over steps of ${duration(stepSeconds)}: how unevenly requests come within a step is unknown, and taken as pure chance`
  const scales = bursts.dispersion.map((d) => `${threeDigits(d.index)} over ${duration(d.seconds)}`).join(', ')
  const is = bursts.bursts
    ? `${burstWords(bursts.bursts)
        .replace(/\.$/, '')
        .replace(/^It comes/, 'they come')}`
    : `they come by pure chance around ${aroundWords(clear)}`
  return `${is}: counts differ ${scales} times as much as by chance, gaps have a variation of ${threeDigits(bursts.variation)}`
}

function sizeWords({ size, distance }: SizeFit): string {
  switch (size.kind) {
    case 'fixed':
      return `always ${grouped(size.value, 0)} tokens`
    case 'lognormal':
      return `half below ${grouped(size.median, 0)} tokens, 95 of 100 below ${grouped(size.p95, 0)}, ${Number.isNaN(distance) ? 'by the buckets of a histogram' : `lognormal within ${percent(distance)}`}`
    case 'empirical':
      return `as ${grouped(size.values.length, 0)} of them, evenly taken, since they follow no lognormal shape`
    case 'exponential':
      return `${grouped(size.mean, 0)} tokens on average; how they spread is not known, and taken as exponential`
  }
}

function sessionWords({ sessions }: ClassFit): string {
  if (!sessions) return ''
  return `${grouped(sessions.count, 0)} conversations of ${threeDigits(sessions.meanTurns)} requests, ${duration(sessions.pauseSeconds)} between them`
}
