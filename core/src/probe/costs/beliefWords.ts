import { duration } from '../../units/duration.ts'
import { bare, LEAST_OFF, offPercent, percent } from '../../units/number.ts'
import { withoutPurpose } from '../shape.ts'
import type { FittedSteps } from './fitSteps.ts'
import type { Judgement } from './judge.ts'
import { STEP_COEFFICIENTS } from '../../service/measured/stepCoefficients.ts'

/** Two that move together like this can not be told apart by what was measured. */
const TOGETHER = 0.95
/** An interval wider than this share of its value tells little. */
const WIDE = 0.5
/** A part whose residuals lie this far to one side, in the middle, has something that the form of the costs does not. */
const ASIDE = 0.05

/** How far a prediction is off, with its sign. @example offWords(-0.0123) // '−1.23 %' */
export const offWords = (share: number): string => offPercent(share, share < 0 ? '−' : '+')

const percentWords = (share: number) => bare(percent(Math.abs(share)))

/** How far a prediction can be believed, first of all. */
export function beliefSentence({ within, mostAtOnce, parts, requests, percentiles }: Judgement): string {
  const open = percentiles.some((p) => p.share === 'p95' && (p.errorLow === undefined || p.errorHigh === undefined))
  return `Believable to within ${percentWords(Math.max(LEAST_OFF, within))} (p50 and p95 of first token and latency) up to ${mostAtOnce} at once, as ${requests} requests of “${parts.map(withoutPurpose).join('”, “')}” showed, which were not fitted; nothing was measured beyond.${open ? ' They are too few for the p95 to be known well itself.' : ''}`
}

/** What the fit could not tell, and which measurement would: a sentence each. */
export function doubtWords(fitted: FittedSteps): string[] {
  const { values, intervals, correlation, mostAtOnce, residuals, from } = fitted
  if (from === 'replays')
    return [
      'They come from replays, whose figures move by who just misses a step: how sure each is can not be told, only what they predict can be judged. Surer are those of one replica, asked by itself, whose tokens come one by one and whose prompts have steps of their own.',
    ]
  const name = (c: number) => STEP_COEFFICIENTS[c].symbol
  const inputs = new Set(residuals.map((r) => r.input))
  const said: string[] = []
  for (let a = 0; a < values.length; a++)
    for (let b = a + 1; b < values.length; b++)
      if (Math.abs(correlation[a][b]) > TOGETHER)
        said.push(`${name(a)} and ${name(b)} can not be told apart by this: ${remedy(a, b, mostAtOnce, inputs.size)}.`)
  values.forEach((value, c) => {
    const interval = intervals[c]
    if (!interval) said.push(`${name(c)} is ${value === 0 ? 'held at 0' : 'not sure'}: ${remedy(c, c, mostAtOnce, inputs.size)}.`)
    else if (interval.high - interval.low > WIDE * value)
      said.push(
        `${name(c)} lies anywhere in ${duration(interval.low)} … ${duration(interval.high)}: ${remedy(c, c, mostAtOnce, inputs.size)}.`,
      )
  })
  return said
}

/** The one further measurement that tells a coefficient from others. */
function remedy(a: number, b: number, mostAtOnce: number, sizes: number): string {
  const of = (symbol: string) => STEP_COEFFICIENTS[a].symbol === symbol || STEP_COEFFICIENTS[b].symbol === symbol
  if (of('m1')) return 'measure long prompts, such as 200+50,8000+50 tokens, with some at once'
  if (of('O')) return `measure more at once, such as ${mostAtOnce},${2 * mostAtOnce}`
  if (of('P1'))
    return sizes < 2
      ? 'measure prompts of two sizes, such as 200+50,4000+50 tokens'
      : 'measure longer prompts, such as 200+50,8000+50 tokens'
  if (of('W')) return 'measure one after another beside several at once, such as 1,4'
  return 'measure more requests'
}

/** Where measured times lie to one side of what fits: a sentence for each part and figure. */
export function misfitWords({ residuals }: FittedSteps): string[] {
  const groups = new Map<string, number[]>()
  for (const r of residuals) {
    const key = `${r.figure === 'TTFT' ? 'first tokens' : 'decoding'} of “${r.part}”`
    groups.set(key, [...(groups.get(key) ?? []), r.measuredSeconds / r.fittedSeconds - 1])
  }
  return [...groups].flatMap(([what, off]) => {
    const middle = [...off].sort((x, y) => x - y)[off.length >> 1]
    if (off.length < 8 || Math.abs(middle) <= ASIDE) return []
    return [
      `The ${what} took ${percentWords(middle)} ${middle > 0 ? 'longer' : 'less'} than what fits all, in the middle: something is at work that step costs do not have, such as a queue or a proxy in front, several replicas, or a limit on how many are served at once.`,
    ]
  })
}
