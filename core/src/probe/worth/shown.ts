import { ln, square } from '../../arithmetic/sameBits.ts'
import { mean, percentileOf } from '../../measure/percentile.ts'
import { normalQuantile } from '../../random/normalQuantile.ts'
import type { RandomStream } from '../../random/stream.ts'
import { Z95 } from '../../service/quality.ts'
import { sum } from '../../units/sum.ts'
import type { Doubted, Factors } from '../../world/worldOf.ts'
import { enoughFor } from './rungs.ts'

/** What one measurement shows at once. */
export const SHOWN_BY = {
  'step costs': ['bandwidth', 'arithmetic', 'launch', 'step costs'],
  'start-up': ['start-up'],
  load: ['load'],
} as const satisfies Record<string, readonly Doubted[]>
export type Measurable = keyof typeof SHOWN_BY

/** What a measurement may show is looked at in so many parts of the worlds, by what it shows. */
const PARTS = 5
/** What it shows is off by at most this much, in 95 of 100. */
const SHOWN_WITHIN = 0.03
const SHUFFLES = 400
/** Who is never answered strains a promise without end. */
const MOST_STRAIN = 10

/**
 * What a measurement shows in each world: how much longer its parts make what is promised, as far as the strains say it (by the
 * slopes of their logarithms), and a little beside it. Undefined where it has no part in it.
 */
export function shownBy(
  what: Measurable,
  factors: readonly Factors[],
  strains: readonly (number | null)[],
  random: RandomStream,
): number[] | undefined {
  const names = SHOWN_BY[what].filter((n: Doubted) => factors.some((f) => (f[n] ?? 1) !== 1))
  if (names.length === 0) return undefined
  const logs = factors.map((f) => names.map((n) => ln(f[n] ?? 1)))
  const known = strains.flatMap((s, i) => (s !== null && s > 0 ? [{ features: logs[i], value: ln(Math.min(s, MOST_STRAIN)) }] : []))
  if (known.length < PARTS) return undefined
  const strain = known.map((k) => k.value)
  // What is off is drawn apart, so that each has a slope of its own.
  const featureOf = (c: number) => known.map((k) => k.features[c])
  const weights = names.map((_, c) => Math.max(0, slope(featureOf(c), strain)))
  if (weights.every((w) => w === 0)) return undefined
  return logs.map(
    (row) => row.reduce((sum, f, c) => sum + weights[c] * f, 0) + (ln(1 + SHOWN_WITHIN) / Z95) * normalQuantile(random.open()),
  )
}

function slope(xs: readonly number[], ys: readonly number[]): number {
  const [x0, y0] = [xs, ys].map((of) => mean(Float64Array.from(of)) ?? 0)
  const both = xs.map((x, i) => (x - x0) * (ys[i] - y0))
  return sum(both, (v) => v) / sum(xs, (x) => square(x - x0))
}

/** What is shown in each world, and what holds there. */
export interface Shown {
  shown: readonly number[]
  /** of each world, whether each of what may be rented holds, in order of what it costs */
  holds: readonly (readonly boolean[])[]
  certainty: number
  /** what each costs, ascending */
  perMonth: readonly number[]
}

/** What is rented where a measurement shows one thing or another, and in which share of what it may show; null where nothing would do. */
export type Then = { rung: number | null; share: number }[]

/** What is saved where each part of what may be shown gets what it needs; nothing where chance alone saves as much. */
export function worthOfShown(
  { shown, holds, certainty, perMonth }: Shown,
  random: RandomStream,
): { savedPerMonth: number; then: Then } | undefined {
  // Where nothing that was looked at does, what costs a step more than all that are needed stands for what would. A world needs that from
  // which on all hold: of different machines a dearer one may break what a cheaper one keeps.
  const needed = holds.filter((h) => h.includes(true)).map((h) => h.lastIndexOf(false) + 1)
  const beyond = Math.min(perMonth.length - 1, Math.max(...needed, -1) + 1)
  const priced = (rung: number) => perMonth[rung < perMonth.length ? rung : beyond]
  const now = priced(enoughFor(certainty, holds))
  const partsBy = (order: readonly number[]) =>
    Array.from({ length: PARTS }, (_, p) => {
      const part = order.slice(Math.round((p * order.length) / PARTS), Math.round(((p + 1) * order.length) / PARTS))
      return {
        share: part.length / order.length,
        rung: enoughFor(
          certainty,
          part.map((i) => holds[i]),
        ),
      }
    })
  const savedBy = (order: readonly number[]) => now - partsBy(order).reduce((sum, p) => sum + p.share * priced(p.rung), 0)
  const inOrder = shown.map((_, i) => i).sort((a, b) => shown[a] - shown[b])
  const byChance = Float64Array.from({ length: SHUFFLES }, () => savedBy(shuffled(inOrder, random))).sort()
  const saved = savedBy(inOrder)
  if (needed.length === 0 || saved <= (percentileOf(byChance, 0.95) ?? 0)) return undefined
  const shares = new Map<number, number>()
  for (const { share, rung } of partsBy(inOrder)) shares.set(rung, (shares.get(rung) ?? 0) + share)
  const then = [...shares].sort(([a], [b]) => a - b).map(([rung, share]) => ({ rung: rung < perMonth.length ? rung : null, share }))
  return { savedPerMonth: saved - (mean(byChance) ?? 0), then }
}

function shuffled(values: readonly number[], random: RandomStream): number[] {
  const out = [...values]
  for (let i = out.length - 1; i > 0; i--) {
    const j = Math.floor(random.next() * (i + 1))
    ;[out[i], out[j]] = [out[j], out[i]]
  }
  return out
}
