import { isCounter, type Series } from '../../files/metrics/series.ts'

/** A step that is so many times as long as the usual one is a gap: of it nothing is known. */
const GAP = 2.5

/** What came in a piece of time. */
export interface Step {
  fromSeconds: number
  untilSeconds: number
  /** more than before, of a counter; rate times time, of a gauge that is a rate */
  amount: number
}

/** The usual time between two samples, in seconds; 0 for fewer than two. */
export function usualStep({ at }: Pick<Series, 'at'>): number {
  const steps = Array.from({ length: Math.max(0, at.length - 1) }, (_, i) => at[i + 1] - at[i]).sort((a, b) => a - b)
  return steps[Math.floor(steps.length / 2)] ?? 0
}

/**
 * What a series counted between its samples. A counter that is less than before was begun anew, and has counted what it shows since; what
 * it had counted before that is lost. Gaps, and values that are no numbers, are left out.
 */
export function steps(series: Series): Step[] {
  const { at, values } = series
  const longest = GAP * usualStep(series)
  const counts = isCounter(series)
  const found: Step[] = []
  for (let i = 1; i < at.length; i++) {
    const [before, now, seconds] = [values[i - 1], values[i], at[i] - at[i - 1]]
    if (!Number.isFinite(before) || !Number.isFinite(now) || seconds > longest) continue
    const amount = counts ? (now >= before ? now - before : now) : Math.max(0, ((before + now) / 2) * seconds)
    found.push({ fromSeconds: at[i - 1], untilSeconds: at[i], amount })
  }
  return found
}

export const total = (of: readonly Step[]): number => of.reduce((sum, s) => sum + s.amount, 0)

/** What steps counted in each of so many pieces of time from `from` on, each step spread evenly over its time. */
export function pouredInto(all: readonly Step[], from: number, pieceSeconds: number, pieces: number): Float64Array {
  const out = new Float64Array(pieces)
  for (const { fromSeconds, untilSeconds, amount } of all)
    for (let i = Math.max(0, Math.floor((fromSeconds - from) / pieceSeconds)); i < pieces; i++) {
      const begin = from + i * pieceSeconds
      if (begin >= untilSeconds) break
      const shared = Math.min(untilSeconds, begin + pieceSeconds) - Math.max(fromSeconds, begin)
      if (shared > 0) out[i] += (amount * shared) / (untilSeconds - fromSeconds)
    }
  return out
}
