import Papa from 'papaparse'
import { textPieces } from '../unpack.ts'
import type { LogFile, LogTable } from './table.ts'

/** What opens with a quote and does not end within so many characters is no quote. */
const LONGEST_CELL = 1 << 22

/** A table of lines: with commas, semicolons or tabs, whichever its first line has most of. */
export function csvTable(file: LogFile): LogTable {
  const first = firstRows(file)
  return {
    headers: (first[0] ?? []).map((h) => h.trim()),
    firstRow: 2,
    async rows(_, take) {
      let number = 0
      for (const rows of csvRows(file)) {
        for (const row of rows) {
          number++
          if (number === 1 || (row.length === 1 && row[0].trim() === '')) continue
          if (take(row, number) === false) return
        }
      }
    },
  }
}

function firstRows(file: LogFile): string[][] {
  for (const rows of csvRows(file)) if (rows.length > 0) return rows
  return []
}

function* csvRows(file: LogFile): Generator<string[][]> {
  let left = ''
  let delimiter = ''
  const parsed = (text: string) => Papa.parse<string[]>(text, { delimiter: (delimiter ||= delimiterOf(text)) }).data
  for (const piece of textPieces(file.bytes, file.name)) {
    left += piece
    const end = endOfRows(left)
    if (end === 0) continue
    yield parsed(left.slice(0, end - (left[end - 2] === '\r' ? 2 : 1)))
    left = left.slice(end)
  }
  if (left !== '') yield parsed(left)
}

/** Where the last whole row of a text ends: behind a line end that no quotes are around. */
function endOfRows(text: string): number {
  let end = text.lastIndexOf('\n')
  let quotes = 0
  for (let at = text.indexOf('"'); at >= 0 && at < end; at = text.indexOf('"', at + 1)) quotes++
  if (quotes % 2 === 1 && text.length < LONGEST_CELL) end = text.lastIndexOf('\n', text.lastIndexOf('"', end))
  return end + 1
}

function delimiterOf(text: string): string {
  const end = text.search(/[\r\n]/)
  const line = end < 0 ? text : text.slice(0, end)
  const times = (d: string) => line.split(d).length
  return [',', ';', '\t'].reduce((best, d) => (times(d) > times(best) ? d : best), ',')
}
