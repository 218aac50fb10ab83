import { ln, square } from '../../arithmetic/sameBits.ts'
import { mean, percentileOf } from '../../measure/percentile.ts'
import { normalQuantile } from '../../random/normalQuantile.ts'
import type { RandomStream } from '../../random/stream.ts'
import { Z95 } from '../../service/quality.ts'
import { sum } from '../../units/sum.ts'
import type { Doubted, Factors } from '../../world/worldOf.ts'

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

/** The fewest groups with which so large a share of worlds holds. */
export function enoughFor(certainty: number, least: readonly number[]): number {
  return [...least].sort((a, b) => a - b)[Math.max(0, Math.ceil(certainty * least.length - 1e-9) - 1)]
}

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

/** What is shown in each world, and the fewest groups that hold there. */
export interface Shown {
  shown: readonly number[]
  least: readonly number[]
  certainty: number
  /** what so many groups cost */
  monthly: (groups: number) => number
  machines: (groups: number) => number
}

/** What is saved where each part of what may be shown gets as many machines as it needs; nothing where chance alone saves as much. */
export function worthOfShown(
  { shown, least, certainty, monthly, machines }: Shown,
  random: RandomStream,
): { savedPerMonth: number; then: { machines: number | null; share: number }[] } | undefined {
  // Where as many as were looked at do not do, one more stands for what would.
  const finite = least.filter(Number.isFinite)
  const beyond = Math.max(...finite, 0) + 1
  const priced = (n: number) => monthly(Number.isFinite(n) ? n : beyond)
  const now = priced(enoughFor(certainty, least))
  const partsBy = (order: readonly number[]) =>
    Array.from({ length: PARTS }, (_, p) => {
      const part = order.slice(Math.round((p * order.length) / PARTS), Math.round(((p + 1) * order.length) / PARTS))
      return {
        share: part.length / order.length,
        groups: enoughFor(
          certainty,
          part.map((i) => least[i]),
        ),
      }
    })
  const savedBy = (order: readonly number[]) => now - partsBy(order).reduce((sum, p) => sum + p.share * priced(p.groups), 0)
  const inOrder = shown.map((_, i) => i).sort((a, b) => shown[a] - shown[b])
  const byChance = Float64Array.from({ length: SHUFFLES }, () => savedBy(shuffled(inOrder, random))).sort()
  const saved = savedBy(inOrder)
  if (finite.length === 0 || saved <= (percentileOf(byChance, 0.95) ?? 0)) return undefined
  const shares = new Map<number, number>()
  for (const { share, groups } of partsBy(inOrder)) shares.set(groups, (shares.get(groups) ?? 0) + share)
  const then = [...shares].sort(([a], [b]) => a - b).map(([n, share]) => ({ machines: Number.isFinite(n) ? machines(n) : null, share }))
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
