import { withRate } from '../plan/arrivalKinds.ts'
import type { Plan } from '../plan/schema.ts'
import { peak, rateAt, rateCurve } from './rate.ts'

/** Requests a second when most of all classes come at once, as their rates state it; undefined where one of them states none. */
export function busiestTogether({ classes, horizon }: Plan): number | undefined {
  const curves = classes.flatMap((c) => {
    const arrivals = withRate(c.arrivals)
    return arrivals ? [rateCurve(arrivals, horizon.seconds, 1, horizon.start)] : []
  })
  if (curves.length < classes.length) return undefined
  const edges = new Set(curves.flatMap((c) => [...c.from]))
  let most = Math.max(...curves.map((c) => peak(c).ratePerSecond))
  for (const t of edges)
    most = Math.max(
      most,
      curves.reduce((sum, c) => sum + rateAt(c, t), 0),
    )
  return most
}
