import { valuesNeeded } from '../measure/orderStatistics.ts'
import { duration } from '../units/duration.ts'
import { sum } from '../units/sum.ts'
import { grouped, percent } from '../units/number.ts'
import { price } from '../units/price.ts'
import { PROBED_SHARES, type PartSummary, type ProbedShare } from './summary.ts'
import type { ProbedRequest } from './probed.ts'
import type { ProbeShape } from './shape.ts'

/** What a measurement may and may not be taken for, a sentence each. */
export function takenFor(kind: ProbeShape['kind'], all: readonly PartSummary[]): string[] {
  const parts = all.filter((p) => !p.warmUp)
  const finished = sum(parts, (p) => p.outcomes.finished ?? 0)
  const of = sum(parts, (p) => p.requests)
  return [
    ...parts
      .filter((p) => p.isVoid)
      .map(
        (p) =>
          `“${p.part}” is void: the probe itself sent up to ${duration(p.late.p95?.value)} late (p95), so that its times are of this machine. Ask less at once, or from a machine with less to do.`,
      ),
    ...(finished < of
      ? [
          `${grouped(of - finished, 0)} of ${grouped(of, 0)} (${percent((of - finished) / of)}) did not finish; times are of the others, and better than what all met.`,
        ]
      : []),
    ...burstWords(parts),
    ...(kind === 'one' ? ['One call is no capacity figure: it says how long one waits who is alone.'] : []),
    ...(kind === 'one-after-another' || kind === 'after-idle' || kind === 'find-idle'
      ? ['Nobody else was served meanwhile: it says nothing of several at once.']
      : []),
    ...(kind === 'at-once'
      ? [
          'Callers who wait for their answer before they come again slow down with the service: how long a crowd waits that comes anyway is seen with rates.',
        ]
      : []),
    ...tooFew(parts),
  ]
}

/** A median gap of less than this share of the mean one is no gap between steps. */
const BURSTS = 0.2

/** Something on the way keeps pieces back and lets several go at once. */
function burstWords(parts: readonly PartSummary[]): string[] {
  const bursts = parts.filter((p) => (p.gap.p50?.value ?? Infinity) < BURSTS * p.meanGap)
  if (bursts.length === 0) return []
  return [
    `Tokens come several at once (a gap is ${duration(bursts[0].gap.p50?.value)} in the middle, ${duration(bursts[0].meanGap)} in the mean, in “${bursts[0].part}”): something on the way gathers them, such as a proxy. Take tokens a second for how fast they are made, not single gaps.`,
  ]
}

function tooFew(parts: readonly PartSummary[]): string[] {
  const fewest = Math.min(...parts.map((p) => p.outcomes.finished ?? 0))
  const names = (Object.keys(PROBED_SHARES) as ProbedShare[]).filter((name) => fewest < valuesNeeded(PROBED_SHARES[name]))
  const hardest = names.at(-1)
  if (!hardest) return []
  return [
    `${fewest === 1 ? 'One request' : `${fewest} requests`} in a part ${fewest === 1 ? 'is' : 'are'} too few for ${names.length > 1 ? `${names.slice(0, -1).join(', ')} and ${names.at(-1)}` : names[0]}: no interval is known above. It takes ${valuesNeeded(PROBED_SHARES[hardest])} for ${hardest}.`,
  ]
}

/** Reasons beyond these are more of the same. */
const MOST_REASONS = 5

/** Why requests did not finish, each reason once. */
export function reasonWords(rows: readonly ProbedRequest[]): string[] {
  const lost = rows.filter((r) => r.outcome !== 'finished' && r.outcome !== 'stopped')
  const reasons = lost.map((r) => `Not finished: ${r.outcome}${r.status > 0 ? ` (${r.status})` : ''}${r.why === '' ? '' : `, ${r.why}`}.`)
  return [...new Set(reasons)].slice(0, MOST_REASONS)
}

/** What ended a measurement before its load did. */
const CUT_SHORT = {
  requests: 'the most requests that it may send were sent',
  seconds: 'the longest that it may take was over',
  money: 'the most money that it may cost was spent',
  told: 'it was stopped',
} as const
export type CutShort = keyof typeof CUT_SHORT

/** How a measurement ended, and what it cost: sentences, none where there is nothing to say. */
export function endWords(cutShort: CutShort | undefined, spent: number | undefined, currency: string): string[] {
  return [
    ...(cutShort ? [`It ended early: ${CUT_SHORT[cutShort]}; what there is until then is told.`] : []),
    ...(spent === undefined ? [] : [`It cost ${price(spent, currency)}.`]),
  ]
}
