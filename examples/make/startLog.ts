import { RandomStream } from '@sandclock/core/random/stream'

const STARTS = 12
/** Seconds that each stage takes as a rule, and by how much that is off. */
const STAGES = { machine: [78, 0.25], image: [41, 0.08], weights: [19, 0.15], load: [6.5, 0.05], 'warm-up': [24, 0.04] } as const
const FIRST = Date.parse('2027-02-22T05:10:00Z')
const BETWEEN_SECONDS = 5400

/** A dozen made-up start-ups by when each of their stages began. */
export function startLog(): string {
  const random = new RandomStream(7, 'start log')
  const lines = Array.from({ length: STARTS }, (_, start) => {
    let at = FIRST + start * BETWEEN_SECONDS * 1000
    const rows = Object.entries(STAGES).map(([stage, [seconds, off]]) => {
      const row = `${start + 1},${stage},${new Date(at).toISOString()}`
      at += Math.round(1000 * seconds * (1 + off * (2 * random.next() - 1)))
      return row
    })
    return [...rows, `${start + 1},ready,${new Date(at).toISOString()}`]
  })
  return `${['start,stage,at', ...lines.flat()].join('\n')}\n`
}
