import { bare, percent } from '../units/number.ts'
import type { Answer, Choice } from './answer.ts'
import { verdict } from './verdict.ts'

/** Worlds in which something holds at the least, where a plan asks; undefined where it does not. @example 'in at least 90 of 100 worlds' */
export const worldsSeenWords = ({ worlds }: Pick<Choice, 'worlds'>): string | undefined =>
  worlds && `in at least ${worlds.kept} of ${worlds.of} worlds`

/** How sure it is that an answer keeps its promises; empty where nothing could be read. */
export function sureWords(answer: Answer): string {
  const { runs } = verdict(answer)
  if (runs === 1) return 'on this one load, replayed once'
  if (!Number.isFinite(runs)) return ''
  const asked = answer.services.some((s) => s.chosen?.worlds) && answer.plan.certainty !== undefined
  const worlds = asked ? `, and what was searched in ${bare(percent(answer.plan.certainty ?? 0))} of its worlds` : ''
  return `sure at 95 % over ${runs} independent draws${worlds}`
}
