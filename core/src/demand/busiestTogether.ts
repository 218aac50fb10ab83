import { withRate } from '../plan/arrivalKinds.ts'
import type { Plan } from '../plan/schema.ts'
import { peak, rateCurve } from './rate.ts'

/** Requests a second when most of all classes come at once, as their rates state it; undefined where one of them states none. */
export function busiestTogether({ classes, horizon }: Plan): number | undefined {
  const curves = classes.flatMap((c) => {
    const arrivals = withRate(c.arrivals)
    return arrivals ? [rateCurve(arrivals, horizon.seconds, 1, horizon.start)] : []
  })
  if (curves.length < classes.length) return undefined
  const edges = [...new Set(curves.flatMap((c) => [...c.from]))]
  return Math.max(
    ...edges.map((t) => curves.reduce((sum, c) => sum + (c.rates[c.from.findLastIndex((f) => f <= t)] ?? 0), 0)),
    ...curves.map((c) => peak(c).ratePerSecond),
  )
}
