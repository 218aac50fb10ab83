/** From when until when somebody is there, and how many places that takes. */
export interface Stay {
  from: number
  until: number
  width: number
}

/**
 * From when on each stay has a place that is committed to, and so is paid anyway; Infinity for one that never has. Places
 * are taken in order of coming, ties as given: who comes takes what is free, and when places get free those who are there
 * without move onto them, whoever came first and fits. Nobody gives a place up before the end.
 *
 * @param stays in any order
 * @example coveredFrom([{ from: 0, until: 5, width: 1 }, { from: 2, until: 9, width: 1 }], 1) // [0, 5]
 */
export function coveredFrom(stays: readonly Stay[], places: number): number[] {
  const out = stays.map(() => Infinity)
  if (places === 0) return out
  const real = stays.flatMap(({ from, until }, i) => (until > from ? [i] : []))
  const coming = [...real].sort((a, b) => stays[a].from - stays[b].from || a - b)
  const going = [...real].sort((a, b) => stays[a].until - stays[b].until)
  const waiting = new Set<number>()
  let free = places
  let next = 0
  const take = (i: number, now: number) => {
    if (stays[i].width > free) return
    free -= stays[i].width
    out[i] = now
    waiting.delete(i)
  }
  going.forEach((end, g) => {
    const { until, width } = stays[end]
    // Who comes at the moment at which somebody goes finds the place free, after those who were there without.
    for (; next < coming.length && stays[coming[next]].from < until; next++) {
      waiting.add(coming[next])
      take(coming[next], stays[coming[next]].from)
    }
    waiting.delete(end)
    if (out[end] < Infinity) free += width
    // All who go at one moment are gone before anybody moves.
    if (g + 1 === going.length || stays[going[g + 1]].until > until) for (const i of [...waiting]) take(i, until)
  })
  return out
}
