import type { Predicted, ProbedRequest } from '@sandclock/core'

/** A request whose times were measured, and are predicted. */
export interface Beside {
  number: number
  part: string
  /** seconds after the measurement began */
  due: number
  measured: number
  predicted: number
  judging: boolean
}

export const BESIDE = { first: 'first token', gap: 'each further token', whole: 'whole answer' } as const
export type BesideOf = keyof typeof BESIDE

/** Requests with both times. @param judging whether a part judged, or was fitted */
export function besideOf(
  rows: readonly ProbedRequest[],
  predicted: readonly Predicted[],
  of: BesideOf,
  judging: (part: string) => boolean,
): Beside[] {
  const known = new Map(predicted.map((p) => [p.number, p]))
  return rows.flatMap((r): Beside[] => {
    const own = known.get(r.number)
    if (!own || (of === 'gap' && r.output < 2)) return []
    const [first, whole] = [r.firstToken - r.sent, r.end - r.sent]
    const measured = of === 'first' ? first : of === 'whole' ? whole : (whole - first) / (r.output - 1)
    const expected =
      of === 'first'
        ? own.firstTokenSeconds
        : of === 'whole'
          ? own.latencySeconds
          : (own.latencySeconds - own.firstTokenSeconds) / (r.output - 1)
    return [{ number: r.number, part: r.part, due: r.due, measured, predicted: expected, judging: judging(r.part) }]
  })
}

/** The share of values at or below each, as a stair. */
export function stair(values: readonly number[]): { x: number; y: number }[] {
  const sorted = [...values].sort((a, b) => a - b)
  return sorted.map((x, i) => ({ x, y: (i + 1) / sorted.length }))
}
