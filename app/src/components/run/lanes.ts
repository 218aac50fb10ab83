import type { Timeline } from '@sandclock/core'

/** How full the replicas are, as a picture with a column for each piece of time and a row for each replica, or group of them. */
export interface LaneBitmap {
  image: ImageData
  rows: number
}

/** Emptier than this is not painted at all. */
const LEAST_FULL = 0.004
const FAINTEST = 0.12

/**
 * Paints lanes in one colour, the fuller the more opaque. Where there are more replicas than `mostRows`, neighbours share
 * a row, which shows their average: 500 replicas cost no more than fit on the screen.
 *
 * @param colour as `#rrggbb`
 */
export function paintLanes(timeline: Timeline, replicas: number, maxSequences: number, mostRows: number, colour: string): LaneBitmap {
  const rows = Math.max(1, Math.min(replicas, mostRows))
  const { pieces } = timeline
  const image = new ImageData(pieces, rows)
  const [red, green, blue] = [1, 3, 5].map((i) => parseInt(colour.slice(i, i + 2), 16))
  const sum = new Float32Array(pieces * rows)
  const members = new Float32Array(rows)
  for (let r = 0; r < replicas; r++) {
    const row = Math.floor((r * rows) / replicas)
    members[row]++
    for (let i = 0; i < pieces; i++) sum[row * pieces + i] += timeline.inService[r * pieces + i]
  }
  for (let at = 0; at < sum.length; at++) {
    const full = Math.min(1, sum[at] / (members[Math.floor(at / pieces)] * maxSequences))
    if (full < LEAST_FULL) continue
    image.data.set([red, green, blue, Math.round(255 * (FAINTEST + (1 - FAINTEST) * full))], at * 4)
  }
  return { image, rows }
}
