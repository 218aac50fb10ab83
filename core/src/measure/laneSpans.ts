import { Stage } from '../life/startRules.ts'
import type { StageSpan } from './fleetPicture.ts'

/** Stretches of a fleet in columns, by replica and then by time, as far as a picture can show them. */
export interface LaneSpans {
  /** by replica: where its stretches begin in the columns; one entry more than replicas */
  first: Int32Array
  stage: Uint8Array
  from: Float64Array
  until: Float64Array
}

/**
 * The stretches that lie in a time. Those shorter than `leastSeconds` that follow one another are one, with the stage of
 * the longest of them: 500 replicas that start several times a day are no more than a picture has room for.
 *
 * @param replicas rows of the picture
 */
export function laneSpans(spans: readonly StageSpan[], replicas: number, from: number, until: number, leastSeconds: number): LaneSpans {
  const rows: StageSpan[][] = Array.from({ length: replicas }, () => [])
  for (const s of spans) if (s.until > from && s.from < until) rows[s.replica].push(s)
  const kept = rows.map((row) =>
    merged(
      row.sort((a, b) => a.from - b.from),
      leastSeconds,
    ),
  )
  const first = new Int32Array(replicas + 1)
  kept.forEach((row, r) => (first[r + 1] = first[r] + row.length))
  const flat = kept.flat()
  return {
    first,
    stage: Uint8Array.from(flat, (s) => s.stage),
    from: Float64Array.from(flat, (s) => s.from),
    until: Float64Array.from(flat, (s) => s.until),
  }
}

function merged(row: readonly StageSpan[], leastSeconds: number): StageSpan[] {
  const out: (StageSpan & { longest: number })[] = []
  for (const s of row) {
    const length = s.until - s.from
    const last = out.at(-1)
    if (!last || length >= leastSeconds || last.until - last.from >= leastSeconds || s.from - last.until >= leastSeconds) {
      out.push({ ...s, longest: length })
      continue
    }
    last.until = s.until
    if (length > last.longest) [last.stage, last.longest] = [s.stage, length]
  }
  return out
}

/** The stage of a replica at a time. */
export function stageAt({ first, stage, from, until }: LaneSpans, replica: number, at: number): number {
  let low = first[replica]
  let high = first[replica + 1]
  while (low < high) {
    const middle = (low + high) >> 1
    if (from[middle] <= at) low = middle + 1
    else high = middle
  }
  const i = low - 1
  return i >= first[replica] && at < until[i] ? stage[i] : Stage.none
}
