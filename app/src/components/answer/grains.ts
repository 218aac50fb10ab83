/**
 * The grain that is nearest to a place within a reach; null for none. Grains are in order of their x, so that only those in
 * reach are looked at.
 */
export function nearestGrain(count: number, x: (i: number) => number, y: (i: number) => number, px: number, py: number, reach: number): number | null {
  let low = 0
  let high = count
  while (low < high) {
    const middle = (low + high) >> 1
    if (x(middle) < px - reach) low = middle + 1
    else high = middle
  }
  let best: number | null = null
  let least = reach
  for (let i = low; i < count && x(i) <= px + reach; i++) {
    const distance = Math.hypot(x(i) - px, y(i) - py)
    if (distance > least || (distance === least && best !== null)) continue
    best = i
    least = distance
  }
  return best
}
