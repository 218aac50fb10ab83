import { exp } from '../arithmetic/sameBits.ts'
import type { Requests } from '../demand/requests.ts'
import type { ScalingPolicy } from '../plan/schema.ts'
import { normalQuantile } from '../random/normalQuantile.ts'
import { spreadOf } from '../random/spread.ts'
import { RandomStream } from '../random/stream.ts'

export type Wake = NonNullable<ScalingPolicy['wake']>

/** Who opens a page and never calls does so within so long of somebody who does. */
const AROUND_SECONDS = 1800

/**
 * When visitors wake a service before they call (docs/model.md, 8): each call that comes on its own has a visit a drawn time before it, and
 * for each there are so many more, at drawn times around it, that the stated share of all visits never calls.
 *
 * @param seed of the run: visits of every draw of the load are drawn anew
 * @returns seconds of the horizon, ascending; those before its start are left out
 */
export function wakeTimes(
  { leadSeconds, leadP95Seconds, neverShare = 0 }: Wake,
  { at, chain, count }: Requests,
  seed: number,
): Float64Array {
  const random = new RandomStream(seed, 'wake')
  const spread = spreadOf(leadSeconds, leadP95Seconds)
  const lead = () => (spread === 0 ? leadSeconds : leadSeconds * exp(spread * normalQuantile(random.open())))
  const visits: number[] = []
  for (let i = 0; i < count; i++) {
    if (chain && chain.pause[i] >= 0) continue
    visits.push(at[i] - lead())
    while (random.open() < neverShare) visits.push(at[i] + (2 * random.open() - 1) * AROUND_SECONDS)
  }
  return Float64Array.from(visits.filter((t) => t > 0)).sort()
}
