import { Outcome } from '../engine/outcome.ts'
import type { RunRecord } from '../engine/record.ts'
import type { Target } from '../plan/schema.ts'
import type { Measure } from './measures.ts'
import { percentile } from './percentile.ts'
import { valueWhere } from './targets.ts'

/** A run cut into equal pieces of time, for pictures. All arrays have one entry a piece unless said otherwise. */
export interface Timeline {
  fromSeconds: number
  untilSeconds: number
  pieces: number
  /** arrivals per second, by class of the plan */
  arrivals: Float32Array[]
  /** requests waiting, averaged over the piece */
  waiting: Float32Array
  /** requests in service, averaged over the piece, for each replica: replica · pieces + piece */
  inService: Float32Array
  /** requests bound to each replica and waiting, averaged, laid out likewise */
  boundWaiting: Float32Array
  /** requests lost, per second, counted where they arrived */
  lost: Float32Array
  /**
   * percentiles of the targets' measures over the requests that arrive in the piece, seconds; NaN where none did, Infinity where the
   * percentile was lost
   */
  readings: { classIndex: number; measure: Measure; percentile: number; limitSeconds: number; values: Float64Array }[]
}

/**
 * Cuts a run into pieces.
 *
 * @param targets the time targets to read, with the index of their class
 */
export function timeline(
  record: RunRecord,
  replicas: number,
  classes: number,
  targets: readonly { classIndex: number; target: Target }[],
  fromSeconds: number,
  untilSeconds: number,
  pieces: number,
): Timeline {
  const width = (untilSeconds - fromSeconds) / pieces
  const { requests } = record
  const out: Timeline = {
    fromSeconds,
    untilSeconds,
    pieces,
    arrivals: Array.from({ length: classes }, () => new Float32Array(pieces)),
    waiting: new Float32Array(pieces),
    inService: new Float32Array(replicas * pieces),
    boundWaiting: new Float32Array(replicas * pieces),
    lost: new Float32Array(pieces),
    readings: [],
  }
  for (let i = 0; i < requests.count; i++) {
    const at = record.at[i]
    const replica = record.replica[i]
    const left = leftAt(record, i)
    const started = Number.isNaN(record.start[i]) ? left : record.start[i]
    if (at < untilSeconds && started > fromSeconds) {
      spend(out.waiting, 0, at, started, fromSeconds, width, pieces)
      if (replica >= 0) spend(out.boundWaiting, replica * pieces, at, started, fromSeconds, width, pieces)
    }
    if (replica >= 0 && started < left) spend(out.inService, replica * pieces, started, left, fromSeconds, width, pieces)
    const piece = Math.floor((at - fromSeconds) / width)
    if (!(piece >= 0 && piece < pieces)) continue
    out.arrivals[requests.classIndex[i]][piece] += 1 / width
    if (isLost(record.outcome[i])) out.lost[piece] += 1 / width
  }
  out.readings = targets.flatMap(({ classIndex, target }) => {
    if (target.measure === 'lost' || target.measure === 'throughput') return []
    const values = perPiece(record, classIndex, target, target.percentile / 100, fromSeconds, width, pieces)
    return [{ classIndex, measure: target.measure, percentile: target.percentile, limitSeconds: target.seconds, values }]
  })
  return out
}

const isLost = (outcome: number) => outcome === Outcome.rejected || outcome === Outcome.abandoned || outcome === Outcome.failed

/** When a request left the service, or the end of the run if it is still there. */
function leftAt(record: RunRecord, i: number): number {
  return Number.isNaN(record.end[i]) ? Math.max(record.endSeconds, record.at[i]) : record.end[i]
}

/** Adds the share of each piece that lies within [start, end). */
function spend(to: Float32Array, offset: number, start: number, end: number, fromSeconds: number, width: number, pieces: number): void {
  const first = (start - fromSeconds) / width
  const last = (end - fromSeconds) / width
  if (last <= 0 || first >= pieces) return
  const a = Math.max(0, first)
  const b = Math.min(pieces, last)
  for (let piece = Math.floor(a); piece < b; piece++) to[offset + piece] += Math.min(b, piece + 1) - Math.max(a, piece)
}

function perPiece(
  record: RunRecord,
  classIndex: number,
  target: Extract<Target, { percentile: number }>,
  share: number,
  fromSeconds: number,
  width: number,
  pieces: number,
): Float64Array {
  const { requests, outcome } = record
  const buckets: number[][] = Array.from({ length: pieces }, () => [])
  for (let i = 0; i < requests.count; i++) {
    if (requests.classIndex[i] !== classIndex) continue
    const piece = Math.floor((record.at[i] - fromSeconds) / width)
    if (!(piece >= 0 && piece < pieces)) continue
    const value = isLost(outcome[i]) ? Infinity : valueWhere(record, i, target)
    if (value === value) buckets[piece].push(value)
  }
  return Float64Array.from(buckets, (b) => percentile(Float64Array.from(b).sort(), share) ?? NaN)
}
