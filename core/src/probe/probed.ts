import { PROBED_HEADER } from '../files/probeFormats.ts'

/** How a request that was sent came to its end. */
export type ProbeOutcome =
  | 'finished'
  /** refused with a status, such as 429 */
  | 'rejected'
  /** it began, and failed or broke off */
  | 'failed'
  /** not whole within the time-out */
  | 'timed-out'
  /** it came to its end, and was not what was said to come */
  | 'wrong'
  /** nobody was there */
  | 'unreachable'
  /** still under way when the probe was stopped */
  | 'stopped'

/** One request as it was measured. Times are seconds after the probe began. */
export interface ProbedRequest {
  number: number
  /** label of its part */
  part: string
  warmUp: boolean
  /** when it was meant to be sent: at its time, or when the answer before it was there */
  due: number
  sent: number
  /** requests under way when it was sent, with itself */
  atOnce: number
  /** NaN where none came */
  firstToken: number
  end: number
  outcome: ProbeOutcome
  /** of HTTP; 0 where there was none */
  status: number
  /** why, where it did not finish */
  why: string
  input: number
  /** tokens that came, or that were asked for where nothing counts them */
  output: number
  /** seconds between pieces with text */
  gaps: number[]
}

const seconds = (t: number) => (Number.isNaN(t) ? '' : t.toFixed(9))
const quoted = (text: string) => (/[",\n]/.test(text) ? `"${text.replaceAll('"', '""')}"` : text)

/**
 * Measured requests as CSV, with the columns of `--per-request` first; when it was started, and by which replica, nobody outside knows.
 * Gaps are seconds with spaces between them.
 */
export function* probedCsv(rows: Iterable<ProbedRequest>): Generator<string> {
  yield `${PROBED_HEADER}\n`
  for (const r of rows) {
    const times = `${seconds(r.due)},,${seconds(r.firstToken)},${seconds(r.end)}`
    const gaps = r.gaps.map((g) => g.toFixed(6)).join(' ')
    yield `${r.number},${quoted(r.part)},${times},${r.outcome},,${seconds(r.sent)},${r.status},${r.input},${r.output},${gaps},${r.atOnce},${quoted(r.why)}\n`
  }
}
