import { clock, duration, threeDigits, type Timeline } from '@sandclock/core'

/** A timeline as rows of text, for the table that stands beside the picture. */
export function timelineRows(startIso: string, t: Timeline, replicas: number, everyPieces: number): { header: string[]; rows: string[][] } {
  const header = ['time', 'arrivals /s', 'waiting', 'in service', 'lost /s', ...t.readings.map((r) => `p${r.percentile} ${r.measure}`)]
  const rows: string[][] = []
  const width = (t.untilSeconds - t.fromSeconds) / t.pieces
  for (let i = 0; i < t.pieces; i += everyPieces) {
    let busy = 0
    for (let r = 0; r < replicas; r++) busy += t.inService[r * t.pieces + i]
    rows.push([
      clock(startIso, t.fromSeconds + i * width),
      threeDigits(t.arrivals.reduce((sum, a) => sum + a[i], 0)),
      threeDigits(t.waiting[i]),
      threeDigits(busy),
      threeDigits(t.lost[i]),
      ...t.readings.map((r) => duration(r.values[i])),
    ])
  }
  return { header, rows }
}
