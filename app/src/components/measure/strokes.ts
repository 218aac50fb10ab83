import type { Predicted, ProbedRequest } from '@sandclock/core'
import type { Point } from '../../charts/spec.ts'

/** A request as a stroke: how long after it was due its first token came, and its end. */
export interface Stroke {
  number: number
  part: string
  /** seconds after it was due; NaN where none came */
  firstSeconds: number
  endSeconds: number
  finished: boolean
  warmUp: boolean
}

/** More strokes than this nobody can tell apart. */
export const MOST_STROKES = 3000

/** Requests in the order in which they were due, part after part; of very many one in so many that a picture has room for them. */
export function strokesOf(rows: readonly ProbedRequest[]): Stroke[] {
  const every = Math.ceil(rows.length / MOST_STROKES)
  if (every > 1) return strokesOf(rows.filter((_, i) => i % every === 0))
  const order = new Map<string, number>()
  for (const r of rows) if (!order.has(r.part)) order.set(r.part, order.size)
  return [...rows]
    .sort((a, b) => order.get(a.part)! - order.get(b.part)! || a.due - b.due || a.number - b.number)
    .map((r) => ({
      number: r.number,
      part: r.part,
      firstSeconds: r.firstToken - r.due,
      endSeconds: r.end - r.due,
      finished: r.outcome === 'finished',
      warmUp: r.warmUp,
    }))
}

/** Lines from one height to another at each place, with gaps between them. */
export function upright(strokes: readonly Stroke[], of: (s: Stroke) => readonly [number, number] | undefined): Point[] {
  return strokes.flatMap((s, i): Point[] => {
    const ends = of(s)
    if (!ends) return []
    const x = i + 0.5
    return [
      { x, y: ends[0] },
      { x, y: ends[1] },
      { x, y: NaN },
    ]
  })
}

/** From which place to which each part goes. */
export function stretches(strokes: readonly Stroke[]): { part: string; from: number; until: number }[] {
  const found: { part: string; from: number; until: number }[] = []
  strokes.forEach(({ part }, i) => {
    const last = found.at(-1)
    if (last?.part === part) last.until = i + 1
    else found.push({ part, from: i, until: i + 1 })
  })
  return found
}

/** A level mark at each place where a time is predicted, with gaps between them. */
export function levels(strokes: readonly Stroke[], predicted: readonly Predicted[], of: (p: Predicted) => number): Point[] {
  const known = new Map(predicted.map((p) => [p.number, p]))
  return strokes.flatMap(({ number }, i): Point[] => {
    const own = known.get(number)
    if (!own) return []
    const y = of(own)
    return [
      { x: i + 0.04, y },
      { x: i + 0.96, y },
      { x: i + 1, y: NaN },
    ]
  })
}
