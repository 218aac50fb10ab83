/**
 * Requests as parallel arrays, in order of arrival (ties in order of their number).
 * They are made once for a seed and shared, unchanged, by every candidate.
 */
export interface Requests {
  readonly count: number
  /** arrival, seconds after the start of the horizon; of followers: as if their predecessor were answered at once */
  readonly at: Float64Array
  /** index into the plan's classes */
  readonly classIndex: Uint8Array
  /** prompt tokens; for fixed work: work units */
  readonly input: Int32Array
  /** answer tokens; for fixed work: items */
  readonly output: Int32Array
  /** number that a person knows the request by: its row in the log, or its place in order of arrival, from 1 */
  readonly id: Int32Array
  /** 1 where the answer was cut off by the service's output cap; absent when none was */
  readonly cutOff?: Uint8Array
  /** who comes only after another is answered; absent when everybody comes on their own */
  readonly chain?: Chain
}

/** Requests that follow others: closed loops and conversations. */
export interface Chain {
  /** the request that follows this one, −1 for none; always a later place */
  readonly next: Int32Array
  /** seconds between the end of the predecessor and the arrival; NaN for requests that come on their own */
  readonly pause: Float64Array
}

/** Tokens of a prompt that are in the cache already: a share of it, but at least one is always worked through. */
export function cachedTokens(input: number, share: number): number {
  return Math.max(0, Math.min(input - 1, Math.floor(share * input)))
}

export type Bytes = new (size: number) => ArrayBufferLike

/**
 * @param bytes where to put them: an ArrayBuffer, or a SharedArrayBuffer so that threads can read them without a copy
 * @returns arrays for `count` requests, all zero
 */
export function emptyRequests(count: number, bytes: Bytes = ArrayBuffer): Requests {
  return {
    count,
    at: new Float64Array(new bytes(8 * count)),
    classIndex: new Uint8Array(new bytes(count)),
    input: new Int32Array(new bytes(4 * count)),
    output: new Int32Array(new bytes(4 * count)),
    id: new Int32Array(new bytes(4 * count)),
  }
}

/** The requests at the given places, in that order, which must be ascending. */
export function pick(from: Requests, places: Int32Array, bytes: Bytes = ArrayBuffer): Requests {
  const to = emptyRequests(places.length, bytes)
  for (let i = 0; i < places.length; i++) {
    const p = places[i]
    to.at[i] = from.at[p]
    to.classIndex[i] = from.classIndex[p]
    to.input[i] = from.input[p]
    to.output[i] = from.output[p]
    to.id[i] = from.id[p]
  }
  return {
    ...to,
    ...(from.cutOff && { cutOff: pickBytes(from.cutOff, places, bytes) }),
    ...(from.chain && { chain: pickChain(from, from.chain, places, bytes) }),
  }
}

function pickBytes(from: Uint8Array, places: Int32Array, bytes: Bytes): Uint8Array {
  const to = new Uint8Array(new bytes(places.length))
  for (let i = 0; i < places.length; i++) to[i] = from[places[i]]
  return to
}

/** A follower whose predecessor was not picked comes on its own. */
function pickChain(from: Requests, chain: Chain, places: Int32Array, bytes: Bytes): Chain {
  const to = new Int32Array(from.count).fill(-1)
  places.forEach((p, i) => (to[p] = i))
  const next = new Int32Array(new bytes(4 * places.length))
  const pause = new Float64Array(new bytes(8 * places.length)).fill(NaN)
  for (let i = 0; i < places.length; i++) {
    const follower = chain.next[places[i]]
    next[i] = follower < 0 ? -1 : to[follower]
    if (next[i] >= 0) pause[next[i]] = chain.pause[follower]
  }
  return { next, pause }
}

/** The requests for which `keep` says yes, by class index. */
export function ofClasses(from: Requests, keep: readonly boolean[], bytes: Bytes = ArrayBuffer): Requests {
  const places = new Int32Array(from.count)
  let n = 0
  for (let i = 0; i < from.count; i++) if (keep[from.classIndex[i]]) places[n++] = i
  return pick(from, places.subarray(0, n), bytes)
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

/** Whether a request comes only after another one is answered. */
export function follows(requests: Requests, i: number): boolean {
  return requests.chain !== undefined && requests.chain.pause[i] >= 0
}
