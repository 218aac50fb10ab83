/**
 * Requests as parallel arrays, in order of arrival (ties in order of their number).
 * They are made once for a seed and shared, unchanged, by every candidate.
 */
export interface Requests {
  readonly count: number
  /** arrival, seconds after the start of the horizon */
  readonly at: Float64Array
  /** index into the plan's classes */
  readonly classIndex: Uint8Array
  /** prompt tokens; for fixed work: work units */
  readonly input: Int32Array
  /** answer tokens; for fixed work: 0 */
  readonly output: Int32Array
  /** number that a person knows the request by: its row in the log, or its place in order of arrival, from 1 */
  readonly id: Int32Array
}

/** @returns arrays for `count` requests, all zero */
export function emptyRequests(count: number): Requests {
  return {
    count,
    at: new Float64Array(count),
    classIndex: new Uint8Array(count),
    input: new Int32Array(count),
    output: new Int32Array(count),
    id: new Int32Array(count),
  }
}

/** The requests at the given places, in that order. */
export function pick(from: Requests, places: Int32Array): Requests {
  const to = emptyRequests(places.length)
  for (let i = 0; i < places.length; i++) {
    const p = places[i]
    to.at[i] = from.at[p]
    to.classIndex[i] = from.classIndex[p]
    to.input[i] = from.input[p]
    to.output[i] = from.output[p]
    to.id[i] = from.id[p]
  }
  return to
}

/** The requests for which `keep` says yes, by class index. */
export function ofClasses(from: Requests, keep: readonly boolean[]): Requests {
  const places = new Int32Array(from.count)
  let n = 0
  for (let i = 0; i < from.count; i++) if (keep[from.classIndex[i]]) places[n++] = i
  return pick(from, places.subarray(0, n))
}

/** Places of the requests of one class that arrive at or after a time, in order. */
export function membersOf(requests: Requests, classIndex: number, fromSeconds = 0): Int32Array {
  const places = new Int32Array(requests.count)
  let n = 0
  for (let i = 0; i < requests.count; i++) if (requests.classIndex[i] === classIndex && requests.at[i] >= fromSeconds) places[n++] = i
  return places.slice(0, n)
}

/** How many requests of each class arrive at or after a time. */
export function countByClass(requests: Requests, classes: number, fromSeconds = 0): number[] {
  const counts = new Array<number>(classes).fill(0)
  for (let i = 0; i < requests.count; i++) if (requests.at[i] >= fromSeconds) counts[requests.classIndex[i]]++
  return counts
}
