import Papa from 'papaparse'
import { BadInput } from '../../plan/problem.ts'
import { emptyRequests, pick } from '../requests.ts'
import { isoSeconds, looksIso, plainSeconds } from './arrivalTime.ts'
import { mapHeaders, USUAL_HEADER, type HeaderMap } from './headers.ts'
import { BAD_ROWS_KEPT, type BadRow, type LogField, type RequestLog } from './requestLog.ts'

/** More classes than this in one log are a sign that the class column holds something else. */
const MOST_CLASSES = 50
/** Sizes and counts are held in 32 bits. */
const LARGEST_TOKENS = 2_000_000_000

/** Rows are handed over in pieces of this size, so that a large file is never held as rows as a whole. */
const CHUNK_CHARACTERS = 1 << 20

/** Collects rows while they are parsed; the arrays double as they fill. */
class Collector {
  private store = emptyRequests(1 << 16)
  private count = 0
  private readonly classIndex = new Map<string, number>()
  readonly badRows: BadRow[] = []
  badRowCount = 0
  private iso: boolean | undefined
  private readonly head: HeaderMap

  constructor(head: HeaderMap) {
    this.head = head
  }

  add(row: readonly string[], line: number): void {
    if (row.length === 1 && row[0].trim() === '') return
    const { columns } = this.head
    const text = (row[columns.arrival ?? -1] ?? '').trim()
    this.iso ??= looksIso(text)
    const at = this.iso ? isoSeconds(text) : plainSeconds(text)
    if (!Number.isFinite(at))
      return this.bad(line, 'arrival', text, this.iso ? 'must be a time such as 2027-03-01T09:00:00Z' : 'must be a number of seconds')
    const input = this.tokens(row, columns.input, line, 'input')
    const output = columns.output === undefined ? 1 : this.tokens(row, columns.output, line, 'output')
    if (input < 0 || output < 0) return
    const name = columns.class === undefined ? '' : (row[columns.class] ?? '').trim()
    const known = this.classIndex.get(name)
    if (known === undefined && this.classIndex.size >= MOST_CLASSES)
      return this.bad(line, 'class', name, `is one class more than the ${MOST_CLASSES} that a log may have`)
    if (known === undefined) this.classIndex.set(name, this.classIndex.size)
    this.keep(at, known ?? this.classIndex.size - 1, input, output, line)
  }

  private tokens(row: readonly string[], column: number | undefined, line: number, field: LogField): number {
    const text = (row[column ?? -1] ?? '').trim()
    const value = text === '' ? NaN : Number(text)
    if (Number.isInteger(value) && value >= 1 && value <= LARGEST_TOKENS) return value
    this.bad(line, field, text, 'must be a whole number of at least 1')
    return -1
  }

  private bad(line: number, field: LogField, found: string, rule: string): void {
    this.badRowCount++
    const header = this.head.names[field] ?? field
    if (this.badRows.length < BAD_ROWS_KEPT)
      this.badRows.push({ line, field: header, found: found === '' ? 'empty' : `"${found.slice(0, 40)}"`, rule })
  }

  private keep(at: number, classIndex: number, input: number, output: number, line: number): void {
    if (this.count === this.store.count) this.grow()
    const i = this.count++
    this.store.at[i] = at
    this.store.classIndex[i] = classIndex
    this.store.input[i] = input
    this.store.output[i] = output
    this.store.id[i] = line - 1
  }

  private grow(): void {
    const more = emptyRequests(this.store.count * 2)
    for (const key of ['at', 'classIndex', 'input', 'output', 'id'] as const) more[key].set(this.store[key])
    this.store = more
  }

  finish(name: string): RequestLog {
    const order = inOrder(this.store.at.subarray(0, this.count))
    const requests = pick(this.store, order)
    const startSeconds = this.count === 0 ? 0 : requests.at[0]
    for (let i = 0; i < this.count; i++) requests.at[i] -= startSeconds
    return {
      name,
      requests,
      startSeconds,
      classNames: [...this.classIndex.keys()],
      iso: this.iso ?? false,
      headers: this.head.names,
      badRows: this.badRows,
      badRowCount: this.badRowCount,
    }
  }
}

/** Places in order of arrival; rows of the same instant keep the order of the file. */
function inOrder(at: Float64Array): Int32Array {
  const order = Int32Array.from({ length: at.length }, (_, i) => i)
  let sorted = true
  for (let i = 1; i < at.length && sorted; i++) sorted = at[i] >= at[i - 1]
  return sorted ? order : order.sort((a, b) => at[a] - at[b] || a - b)
}

/**
 * Reads a request log in CSV: a header line, then a request a line. Rows that can not be used are kept out and
 * reported by line; the rest is used. Arrivals are seconds or ISO times (all of one kind; the first row decides).
 *
 * @param name file name, for sentences
 * @throws BadInput when there is no header with an arrival and an input column, or no usable row
 */
export function readRequestLog(text: string, name: string): RequestLog {
  let collector: Collector | undefined
  let line = 0
  Papa.parse<string[]>(text.charCodeAt(0) === 0xfeff ? text.slice(1) : text, {
    delimiter: firstLineDelimiter(text),
    chunkSize: CHUNK_CHARACTERS,
    complete: () => undefined, // its types want it beside `chunk`
    chunk: ({ data }: { data: string[][] }) => {
      for (const row of data) {
        line++
        if (collector) collector.add(row, line)
        else collector = new Collector(checkedHeader(row, name))
      }
    },
  })
  const log = collector?.finish(name)
  if (!log || log.requests.count === 0) throw new BadInput(`No request could be read from ${name}.`, noRows(log))
  return log
}

function noRows(log: RequestLog | undefined) {
  const first = log?.badRows[0]
  if (!first) return [{ path: 'line 2', rule: 'must hold a request; the file ends before' }]
  return [{ path: `line ${first.line}, ${first.field}`, found: first.found, rule: first.rule }]
}

function checkedHeader(row: readonly string[], name: string): HeaderMap {
  const head = mapHeaders(row)
  const absent = (['arrival', 'input'] as const).filter((field) => head.columns[field] === undefined)
  if (absent.length === 0) return head
  throw new BadInput(
    `${name} has no header that could be understood.`,
    absent.map((field) => ({
      path: 'line 1',
      found: `"${row.join(',').slice(0, 80)}"`,
      rule: `must name a column such as "${USUAL_HEADER[field]}"`,
    })),
  )
}

/** Comma, semicolon or tab, whichever the first line has most of. */
function firstLineDelimiter(text: string): string {
  const end = text.search(/[\r\n]/)
  const line = end < 0 ? text : text.slice(0, end)
  const times = (d: string) => line.split(d).length
  return [',', ';', '\t'].reduce((best, d) => (times(d) > times(best) ? d : best), ',')
}
