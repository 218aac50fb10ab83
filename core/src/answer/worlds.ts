import { square } from '../arithmetic/sameBits.ts'
import type { Plan } from '../plan/schema.ts'
import { specOf } from '../run/specOf.ts'
import type { Load } from '../search/load.ts'
import { wilson } from '../service/quality.ts'
import { sum } from '../units/sum.ts'
import type { Sized } from './levers.ts'
import { strained } from './strained.ts'
import { USUAL_WORLDS, worldOf, type Doubted, type Factors, type World } from '../world/worldOf.ts'

/** How a chosen configuration fares where what the plan states is otherwise, as its doubts allow. */
export interface WorldsReport {
  settled: number
  of: number
  /** worlds in which every promise is kept */
  kept: number
  /** where the share of such worlds lies with 95 % */
  low: number
  high: number
  /** of each world: whether every promise is kept */
  held: boolean[]
  /** of each world: the tightest promise over its limit (1 is just enough); null where the configuration can not be had */
  strains: (number | null)[]
  /** what decides: how much of the spread of strains goes with each, by ranks; the largest first, what is not told from chance left out */
  deciding: { what: Doubted; share: number }[]
}

/**
 * Runs a chosen configuration in one world after the other, each with a draw of its load, of those that the plan has, in turn. Yields
 * after each.
 *
 * @param load of the plan
 * @param count worlds, 1…
 */
export function* worlds(
  plan: Plan,
  serviceName: string,
  chosen: Sized,
  load: Load,
  count = USUAL_WORLDS,
): Generator<WorldsReport, WorldsReport> {
  const drawn: Factors[] = []
  const fared: Fared[] = []
  for (let number = 0; number < count; number++) {
    const world = worldOf(plan, number)
    drawn.push(world.factorsAt(serviceName, chosen.option))
    fared.push(faredIn(world, serviceName, chosen, load))
    yield reportOf(drawn, fared, count)
  }
  return reportOf(drawn, fared, count)
}

/** How one world went: the tightest promise, and whether all are kept. */
interface Fared {
  strain: number | null
  kept: boolean
}

function faredIn({ plan, loadFactor, repetition }: World, serviceName: string, chosen: Sized, load: Load): Fared {
  const spec = specOf(plan, serviceName, chosen.option, chosen.machines)
  if (!spec) return { strain: null, kept: false }
  const { strains, kept } = strained(plan, spec, load, loadFactor, repetition)
  return { strain: Math.max(0, ...strains), kept }
}

function reportOf(drawn: readonly Factors[], fared: readonly Fared[], of: number): WorldsReport {
  const held = fared.map((f) => f.kept)
  const kept = held.filter(Boolean).length
  const { low, high } = wilson(kept / fared.length, fared.length)
  const strains = fared.map((f) => f.strain)
  return { settled: fared.length, of, kept, low, high, held, strains, deciding: decidingOf(drawn, strains) }
}

/** Correlations of ranks beyond so many times what chance alone gives are told. */
const TOLD = 2.5

function decidingOf(drawn: readonly Factors[], strains: readonly (number | null)[]): WorldsReport['deciding'] {
  const ranks = ranksOf(strains.map((s) => s ?? Infinity))
  const names = Object.keys(drawn[0]) as Doubted[]
  const found = names.flatMap((what) => {
    const r = correlation(ranksOf(drawn.map((w) => w[what] ?? 1)), ranks)
    return Math.abs(r) * Math.sqrt(drawn.length) > TOLD ? [{ what, share: square(r) }] : []
  })
  return found.sort((a, b) => b.share - a.share)
}

/** Ranks, those of equal values in the mean. */
function ranksOf(values: readonly number[]): number[] {
  const order = values.map((_, i) => i).sort((a, b) => values[a] - values[b])
  const ranks = new Array<number>(values.length)
  for (let from = 0; from < order.length;) {
    let until = from + 1
    while (until < order.length && values[order[until]] === values[order[from]]) until++
    for (let k = from; k < until; k++) ranks[order[k]] = (from + until - 1) / 2
    from = until
  }
  return ranks
}

function correlation(a: readonly number[], b: readonly number[]): number {
  const middle = (a.length - 1) / 2
  const spread = (ranks: readonly number[]) => sum(ranks, (r) => square(r - middle))
  const both = Math.sqrt(spread(a) * spread(b))
  return both === 0
    ? 0
    : sum(
        a.map((r, i) => (r - middle) * (b[i] - middle)),
        (v) => v,
      ) / both
}
