import { duration } from '../../units/duration.ts'
import { listed } from '../../units/listed.ts'
import { bare, LEAST_OFF, offPercent, percent } from '../../units/number.ts'
import type { Price } from '../price.ts'
import { withoutPurpose } from '../shape.ts'
import type { FittedSteps } from './fitSteps.ts'
import { furtherWords } from './further.ts'
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
  return `Believable to within ${percentWords(Math.max(LEAST_OFF, within))} (p50 and p95 of first token and latency) up to ${mostAtOnce} at once, as ${requests === 1 ? '1 request' : `${requests} requests`} of “${parts.map(withoutPurpose).join('”, “')}” showed, which were not fitted; nothing was measured beyond.${open ? ' They are too few for the p95 to be known well itself.' : ''}`
}

/** What the fit could not tell, a sentence each, and the one further measurement that would. @param paid what requests cost, if known */
export function doubtWords(fitted: FittedSteps, paid?: Price): string[] {
  const { values, intervals, correlation, exchangeable, from } = fitted
  if (from === 'replays')
    return [
      'They come from replays, whose figures move by who just misses a step: how sure each is can not be told, only what they predict can be judged. Surer are those of one replica, asked by itself, whose tokens come one by one and whose prompts have steps of their own.',
    ]
  const name = (c: number) => STEP_COEFFICIENTS[c].symbol
  const places = values.map((_, c) => c)
  const isUnsure = (c: number) => isWide(values[c], intervals[c])
  const goTogether = (c: number, d: number) => Math.abs(correlation[c][d]) > TOGETHER && isUnsure(c) && isUnsure(d)
  const beside = places.map((c) => places.filter((d) => d !== c && (exchangeable[c].includes(d) || goTogether(c, d))))
  const said: string[] = []
  for (const group of groupsOf(beside)) said.push(`${listed(group.map(name))} can not be told apart by this.`)
  const alone = places.filter((c) => isUnsure(c) && beside[c].length === 0)
  for (const c of alone) {
    const interval = intervals[c]
    said.push(
      interval
        ? `${name(c)} lies anywhere in ${duration(interval.low)} … ${duration(interval.high)}.`
        : `${name(c)} is ${values[c] === 0 ? 'held at 0' : 'not sure'}.`,
    )
  }
  const unsure = places.filter(isUnsure)
  return unsure.length === 0 ? said : [...said, furtherWords(fitted, unsure, paid)]
}

const isWide = (value: number, interval: { low: number; high: number } | undefined) =>
  !interval || interval.high - interval.low > WIDE * value

/** Those that hang together, by one or over others. @param beside of each those that go with it */
function groupsOf(beside: readonly (readonly number[])[]): number[][] {
  const seen = new Set<number>()
  const groupFrom = (c: number): number[] => {
    if (seen.has(c)) return []
    seen.add(c)
    return [c, ...beside[c].flatMap(groupFrom)]
  }
  return beside
    .map((_, c) => groupFrom(c))
    .filter((group) => group.length > 1)
    .map((group) => group.sort((x, y) => x - y))
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
