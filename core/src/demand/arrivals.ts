import { ln } from '../arithmetic/sameBits.ts'
import type { RandomStream } from '../random/stream.ts'
import type { Gap } from './bursts.ts'
import { expectedCount, type RateCurve } from './rate.ts'

/** Arrivals of a Poisson process with the given rate, in [0, endSeconds). */
export function poissonArrivals(curve: RateCurve, random: RandomStream): Float64Array {
  return arrivalsAlong(curve, () => -ln(random.open()))
}

/**
 * Arrivals by inversion: gaps of mean 1 are spent against the area under the rate curve, so that a constant rate
 * gives the renewal process of the gaps exactly. The first arrival comes after one gap.
 *
 * @returns increasing times in [0, endSeconds)
 */
export function arrivalsAlong(curve: RateCurve, draw: Gap): Float64Array {
  let times = new Float64Array(Math.ceil(expectedCount(curve) * 1.02) + 64)
  let count = 0
  let gap = draw()
  for (let i = 0; i < curve.from.length; i++) {
    const rate = curve.rates[i]
    const end = curve.from[i + 1] ?? curve.endSeconds
    let t = curve.from[i]
    while (rate > 0) {
      const next = t + gap / rate
      if (next >= end) {
        gap = Math.max(0, gap - (end - t) * rate)
        break
      }
      t = next
      if (count === times.length) times = grown(times)
      times[count++] = t
      gap = draw()
    }
  }
  return times.slice(0, count)
}

function grown(times: Float64Array<ArrayBuffer>): Float64Array<ArrayBuffer> {
  const more = new Float64Array(Math.ceil(times.length * 1.5) + 64)
  more.set(times)
  return more
}
