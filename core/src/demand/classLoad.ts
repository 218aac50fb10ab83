/** The requests of one class before they are merged with the others, in order of arrival. */
export interface ClassLoad {
  at: Float64Array
  input: Int32Array
  output: Int32Array
  /** row in the log, for classes that come from one */
  id?: Int32Array
  /** who follows whom, by place in the class (see `Chain`) */
  next?: Int32Array
  pause?: Float64Array
}

export const NO_LOAD: ClassLoad = { at: new Float64Array(0), input: new Int32Array(0), output: new Int32Array(0) }

/** Chains of requests one after the other: chain j has the places from[j]…from[j + 1] − 1. */
export interface Chains {
  from: Int32Array
  /** when the first of each chain arrives */
  start: Float64Array
  /** seconds before each request but the first of its chain */
  pause: Float64Array
}

/**
 * When everybody would arrive if answers took no time, in that order, with who follows whom. Requests whose time is
 * then beyond the end never come.
 *
 * @returns `place`: where each request stands among those of all chains
 */
export function inOrderOfArrival(
  chains: Chains,
  endSeconds: number,
): { place: Int32Array; at: Float64Array; next: Int32Array; pause: Float64Array } {
  const total = chains.pause.length
  const times = new Float64Array(total)
  const places: number[] = []
  for (let j = 0; j < chains.start.length; j++) {
    let t = chains.start[j]
    for (let i = chains.from[j]; i < chains.from[j + 1]; i++) {
      if (i > chains.from[j]) t += chains.pause[i]
      if (t >= endSeconds) break
      times[i] = t
      places.push(i)
    }
  }
  // Within a chain places ascend with time, so that ties in order of place keep a follower behind whom it follows.
  const place = Int32Array.from(places).sort((a, b) => times[a] - times[b] || a - b)
  const where = new Int32Array(total).fill(-1)
  place.forEach((p, i) => (where[p] = i))
  const first = new Uint8Array(total)
  for (let j = 0; j < chains.start.length; j++) first[chains.from[j]] = 1
  const next = Int32Array.from(place, (p) => (p + 1 < total && first[p + 1] === 0 ? where[p + 1] : -1))
  return {
    place,
    at: Float64Array.from(place, (p) => times[p]),
    next,
    pause: Float64Array.from(place, (p) => (first[p] === 1 ? NaN : chains.pause[p])),
  }
}
