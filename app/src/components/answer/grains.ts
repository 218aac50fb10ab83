import { firstNotBelow, type Dust } from '@sandclock/core'

/** Where a grain lies on a picture, in pixels. */
export interface Place {
  x: number
  y: number
}

/**
 * The grain that is nearest to a place within a reach; null for none. Grains are in order of their cost, and so of their x:
 * only those in reach are looked at.
 *
 * @param leastPerHour the cost at the left end of the reach
 */
export function nearestGrain(
  { perHour }: Dust,
  placeOf: (i: number) => Place,
  leastPerHour: number,
  at: Place,
  reach: number,
): number | null {
  let best: number | null = null
  let least = reach
  for (let i = firstNotBelow(perHour, leastPerHour); i < perHour.length; i++) {
    const { x, y } = placeOf(i)
    if (x > at.x + reach) break
    const distance = Math.hypot(x - at.x, y - at.y)
    if (distance > least || (distance === least && best !== null)) continue
    best = i
    least = distance
  }
  return best
}
