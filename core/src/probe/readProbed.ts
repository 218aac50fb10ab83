import Papa from 'papaparse'
import { BadInput, type Problem } from '../plan/problem.ts'
import { PROBED_HEADER, PROBED_HEADER_AT_FIRST } from '../files/probeFormats.ts'
import type { ProbedRequest, ProbeOutcome } from './probed.ts'

const OUTCOMES: readonly ProbeOutcome[] = ['finished', 'rejected', 'failed', 'timed-out', 'wrong', 'unreachable', 'stopped']
const MOST_PROBLEMS = 10

/**
 * Reads measured requests again, as `probedCsv` wrote them.
 *
 * @throws BadInput for a file that is none, with the rows that can not be used
 */
export function readProbed(text: string): ProbedRequest[] {
  const { data } = Papa.parse<string[]>(text.trim(), { skipEmptyLines: true })
  const [header, ...lines] = data
  const said = header?.join(',')
  if (said !== PROBED_HEADER && said !== PROBED_HEADER_AT_FIRST)
    throw new BadInput('These are no measured requests.', [
      { path: 'line 1', rule: `must be ${PROBED_HEADER}, as measure --out writes it` },
    ])
  const problems: Problem[] = []
  const rows = lines.flatMap((cells, i) => {
    const row = rowOf(cells, header.length)
    if (typeof row !== 'string') return [row]
    problems.push({ path: `line ${i + 2}`, rule: row })
    return []
  })
  if (problems.length > 0) throw new BadInput('Some of the measured requests can not be used.', problems.slice(0, MOST_PROBLEMS))
  return rows
}

function rowOf(cells: readonly string[], columns: number): ProbedRequest | string {
  if (cells.length !== columns) return `has ${cells.length} cells; the header has ${columns}`
  const [id, part, due, , firstToken, end, outcome, , sent, status, input, output, gaps, atOnce, why = ''] = cells
  const known = OUTCOMES.find((o) => o === outcome)
  if (!known) return `has the outcome “${outcome}”; it must be one of ${OUTCOMES.join(', ')}`
  const row: ProbedRequest = {
    number: Number(id),
    part,
    warmUp: /(^|, )warm-up$/.test(part),
    due: Number(due),
    sent: Number(sent),
    atOnce: Number(atOnce),
    firstToken: firstToken === '' ? NaN : Number(firstToken),
    end: Number(end),
    outcome: known,
    status: Number(status),
    why,
    input: Number(input),
    output: Number(output),
    gaps: gaps === '' ? [] : gaps.split(' ').map(Number),
  }
  const { number, due: d, sent: s, end: e, input: p, output: o } = row
  if (![number, d, s, e, p, o, row.atOnce, ...row.gaps].every(Number.isFinite) || (firstToken !== '' && Number.isNaN(row.firstToken)))
    return 'has a cell that is no number'
  return row
}
