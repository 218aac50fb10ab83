import type { RunRecord } from '../engine/record.ts'
import type { Target } from '../plan/schema.ts'
import { promised, type TargetPromise } from './targets.ts'

/** A stretch of a run in which a class got less than it was promised. */
export interface BadMoment {
  fromSeconds: number
  untilSeconds: number
  /** requests that arrived in it and broke a promise of time, or were lost; each counts once */
  late: number
  /** requests that arrived in it */
  arrivals: number
  /** the class and the promise that most of them broke */
  className: string
  target: TimeTarget
}

type TimeTarget = Extract<Target, { percentile: number }>

/** Promises are read in pieces of so long. */
const PIECE_SECONDS = 300
/** Bad pieces that lie no further apart are one moment. */
const GAP_PIECES = 2
/** One late request is chance, not a moment. */
const LEAST_LATE = 2

/**
 * The moments of a run in which more requests were late than a promise allows, by five-minute pieces of arrival, worst
 * first. Head-room is not taken off: late is who took longer than was promised.
 *
 * @param placed the targets of the service; those that are not about time are passed over
 * @param fromSeconds those who come before it are not counted: the end of the warm-up
 */
export function badMoments(
  record: RunRecord,
  placed: readonly (TargetPromise & { classIndex: number; className: string })[],
  horizonSeconds: number,
  fromSeconds = 0,
): BadMoment[] {
  const timed = placed.flatMap((p) =>
    p.target.measure === 'lost' || p.target.measure === 'throughput' ? [] : [{ ...p, target: p.target }],
  )
  const pieces = Math.ceil(horizonSeconds / PIECE_SECONDS)
  const misses = timed.map(() => new Int32Array(pieces))
  const considered = timed.map(() => new Int32Array(pieces))
  const late = new Int32Array(pieces)
  const arrivals = new Int32Array(pieces)
  for (let i = 0; i < record.requests.count; i++) {
    const at = record.at[i]
    if (!(at >= fromSeconds && at < horizonSeconds)) continue
    const piece = Math.floor(at / PIECE_SECONDS)
    let isLate = false
    timed.forEach((promise, t) => {
      const { classIndex, target } = promise
      if (record.requests.classIndex[i] !== classIndex) return
      const value = promised(record, i, promise, target.seconds)
      if (value !== value) return
      considered[t][piece]++
      if (value <= target.seconds) return
      misses[t][piece]++
      isLate = true
    })
    arrivals[piece]++
    if (isLate) late[piece]++
  }
  const isBad = (piece: number) =>
    timed.some(({ target }, t) => misses[t][piece] >= LEAST_LATE && misses[t][piece] > (1 - target.percentile / 100) * considered[t][piece])
  const out = spells(pieces, isBad).map(([first, last]): BadMoment => {
    const sum = (of: Int32Array) => of.subarray(first, last + 1).reduce((a, b) => a + b, 0)
    const worst = timed.map((_, t) => t).reduce((a, b) => (sum(misses[b]) > sum(misses[a]) ? b : a))
    return {
      fromSeconds: first * PIECE_SECONDS,
      untilSeconds: Math.min(horizonSeconds, (last + 1) * PIECE_SECONDS),
      late: sum(late),
      arrivals: sum(arrivals),
      className: timed[worst].className,
      target: timed[worst].target,
    }
  })
  return out.sort((a, b) => b.late - a.late || a.fromSeconds - b.fromSeconds)
}

/** Stretches of bad pieces, first and last of each; small gaps are bridged. */
function spells(pieces: number, isBad: (piece: number) => boolean): [first: number, last: number][] {
  const out: [number, number][] = []
  for (let piece = 0; piece < pieces; piece++) {
    if (!isBad(piece)) continue
    const last = out.at(-1)
    if (last && piece - last[1] <= GAP_PIECES) last[1] = piece
    else out.push([piece, piece])
  }
  return out
}
