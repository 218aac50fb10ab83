import { BadInput } from '../../plan/problem.ts'
import type { Bytes } from '../requests.ts'
import { Collector } from './collector.ts'
import { textOfCell } from './cells.ts'
import { guessColumns, holdsWords, LOG_FIELDS, USUAL_HEADER, type LogColumns, type LogField } from './logColumns.ts'
import { logName, placeOf, type RequestLog } from './requestLog.ts'
import { openTable } from './tables/openTable.ts'
import type { Cell, LogFile, LogTable } from './tables/table.ts'

/** Rows by which columns are told apart, and of which some are shown. */
const ROWS_LOOKED_AT = 50

/** How a log looks before it is read: its columns, its first rows, and what its columns are taken for. */
export interface LogPeek {
  headers: string[]
  /** texts of the first rows by column; empty where a column holds words, which are not shown either */
  rows: string[][]
  /** columns that hold what somebody wrote: they are not read */
  words: boolean[]
  columns: LogColumns
}

/**
 * Looks at the first rows of a log.
 *
 * @param files parts of one log; the first is looked at
 * @throws BadInput when it can not be opened
 */
export async function peekLog(files: readonly LogFile[]): Promise<LogPeek> {
  return peekTable(await openTable(files[0]))
}

async function peekTable(table: LogTable): Promise<LogPeek> {
  const { headers } = table
  const sample: Cell[][] = []
  await table.rows(
    headers.map((_, c) => c),
    (cells) => sample.push([...cells]) < ROWS_LOOKED_AT,
    () => undefined,
  )
  const words = headers.map((_, c) => holdsWords(sample.map((row) => row[c])))
  return {
    headers,
    rows: sample.map((row) => headers.map((_, c) => (words[c] ? '' : textOfCell(row[c])))),
    words,
    columns: guessColumns(headers, sample),
  }
}

/**
 * Reads a request log: lines with commas, semicolons or tabs and a header, JSON lines, or Parquet; plain, gzip or zstd; one file or
 * several that are one log. Rows that can not be used are kept out and told; the rest is used. Columns that hold words are not kept.
 *
 * @param files of the same columns, in any order
 * @param columns what each column is; told by names and by what is in them if left out
 * @param bytes where to put what is kept; see `emptyRequests`
 * @throws BadInput when a file can not be opened, a column for arrivals or sizes is not there, or no row can be used
 */
export async function readRequestLog(files: readonly LogFile[], columns?: LogColumns, bytes: Bytes = ArrayBuffer): Promise<RequestLog> {
  let collector: Collector | undefined
  let rowsBefore = 0
  for (const file of files) {
    const table = await openTable(file)
    if (table.headers.every((h) => h === ''))
      throw new BadInput(`No request could be read from ${file.name}.`, [{ path: '', rule: 'is empty' }])
    columns ??= (await peekTable(table)).columns
    const place = placesOf(table.headers, columns, file.name)
    const several = files.length > 1 ? file.name : undefined
    const into = (collector ??= new Collector(columns))
    let last = 0
    await table.rows(
      Object.values(place),
      (cells, number) => {
        last = number
        into.add(cells, place, number, rowsBefore + number - table.firstRow + 1, several)
      },
      (number, found, rule) => {
        last = number
        into.bad('row', found, rule, number, several)
      },
    )
    rowsBefore += Math.max(0, last - table.firstRow + 1)
  }
  const names = files.map((file) => file.name)
  const name = logName(names)
  const log = collector?.finish(names, bytes)
  if (!log || log.requests.count === 0) throw new BadInput(`No request could be read from ${name}.`, noRows(log))
  return log
}

function noRows(log: RequestLog | undefined) {
  const first = log?.badRows[0]
  if (!first) return [{ path: 'line 2', rule: 'must hold a request; the file ends before' }]
  return [{ path: placeOf(first), found: first.found, rule: first.rule }]
}

function placesOf(headers: readonly string[], { names }: LogColumns, file: string): Partial<Record<LogField, number>> {
  const absent = (Object.keys(USUAL_HEADER) as (keyof typeof USUAL_HEADER)[]).filter((field) => names[field] === undefined)
  const first = `"${headers.join(',').slice(0, 80)}"`
  if (absent.length > 0)
    throw new BadInput(
      `${file}, taken for a request log, has no header that could be understood.`,
      absent.map((field) => ({
        path: 'line 1',
        found: first,
        rule: `must name a column such as "${USUAL_HEADER[field]}" for ${LOG_FIELDS[field]}, or it has to be said which column that is`,
      })),
    )
  const missing = Object.values(names).filter((name) => !headers.includes(name))
  if (missing.length > 0)
    throw new BadInput(
      `${file} does not have the columns that the log is read by.`,
      missing.map((name) => ({ path: 'line 1', found: first, rule: `must name a column "${name}"` })),
    )
  return Object.fromEntries(Object.entries(names).map(([field, name]) => [field, headers.indexOf(name)]))
}
