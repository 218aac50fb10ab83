import { percentileOf } from '../../measure/percentile.ts'
import { RandomStream } from '../../random/stream.ts'
import type { ProbedRequest } from '../probed.ts'
import type { Asking } from '../shape.ts'
import { stepDraws } from '../../service/measured/drawnSteps.ts'
import { pressedPerSecond } from './dryProbe.ts'
import type { FittedSteps } from './fitSteps.ts'

/** Answers a second with so many callers at once: as measured, and as the fitted step costs have it. */
export interface BendStep {
  clients: number
  /** undefined where it was not measured */
  measuredPerSecond?: number
  predictedPerSecond: number
  /** nine in ten of the draws of step costs lie within; undefined where nothing tells how sure they are */
  band?: { low: number; high: number }
}

/** Worlds that are drawn for the breadth of a prediction. */
const DRAWS = 40
const [LOW, HIGH] = [0.05, 0.95]
/** Steps are predicted up to so many times what was measured. */
const BEYOND = 4

/**
 * Where more callers at once are not answered faster any more: each part of a measurement in which so many came at once, and steps
 * between and beyond them, with the same sizes and as many requests of each caller.
 *
 * @returns nothing where nobody came at once
 */
export function bendSteps(rows: readonly ProbedRequest[], fitted: FittedSteps): BendStep[] {
  const measured = closedParts(rows)
  const [first] = measured
  if (!first) return []
  const most = Math.max(...measured.map((m) => m.clients))
  const draw = stepDraws(fitted, new RandomStream(1, 'step costs'))
  const draws = draw ? Array.from({ length: DRAWS }, draw) : []
  return clientsUpTo(
    BEYOND * most,
    measured.map((m) => m.clients),
  ).map((clients): BendStep => {
    const own = measured.find((m) => m.clients === clients)
    const asking = own?.asking ?? first.sizes(Math.ceil((clients * first.asking.length) / first.clients))
    const perSecond = (values: readonly number[]) => pressedPerSecond(values, fitted.served, asking, clients)
    const drawn = Float64Array.from(draws, perSecond)
    const [low, high] = [percentileOf(drawn, LOW), percentileOf(drawn, HIGH)]
    return {
      clients,
      ...(own && { measuredPerSecond: own.perSecond }),
      predictedPerSecond: perSecond(fitted.values),
      ...(low !== undefined && high !== undefined && { band: { low, high } }),
    }
  })
}

interface ClosedPart {
  clients: number
  perSecond: number
  asking: Asking[]
  /** as many more of the same sizes, in turn */
  sizes: (count: number) => Asking[]
}

/** Parts in which everybody who was answered came again at once, all of them answered. */
function closedParts(rows: readonly ProbedRequest[]): ClosedPart[] {
  const parts = new Map<string, ProbedRequest[]>()
  for (const r of rows) if (!r.warmUp) parts.set(r.part, [...(parts.get(r.part) ?? []), r])
  return [...parts]
    .flatMap(([part, own]) => {
      const clients = Number(/^(?:.*, )?(\d+) at once$/.exec(part)?.[1] ?? (/^(?:.*, )?one after another$/.test(part) ? 1 : NaN))
      if (!(clients >= 1) || own.some((r) => r.outcome !== 'finished')) return []
      const sent = [...own].sort((a, b) => a.sent - b.sent)
      const asking = sent.map(({ input, output }) => ({ input, output }))
      const seconds = sent.reduce((last, r) => Math.max(last, r.end), 0) - sent[0].due
      const sizes = (count: number) => Array.from({ length: count }, (_, i) => asking[i % asking.length])
      return [{ clients, perSecond: own.length / seconds, asking, sizes }]
    })
    .sort((a, b) => a.clients - b.clients)
}

/** Powers of two, and those that were measured. */
function clientsUpTo(most: number, measured: readonly number[]): number[] {
  const steps = [...measured]
  for (let c = 1; c <= most; c *= 2) steps.push(c)
  return [...new Set(steps)].sort((a, b) => a - b)
}
