import { textPieces } from '../unpack.ts'
import type { Cell, LogFile, LogTable } from './table.ts'

/** The columns of JSON lines are the fields that any of its first so many lines has. */
const LINES_LOOKED_AT = 200

type Fields = Record<string, unknown>

/** A table of JSON lines, one object each; fields of objects within are columns with a dot, such as usage.prompt_tokens. */
export function jsonTable(file: LogFile): LogTable {
  const headers = new Set<string>()
  let looked = 0
  for (const line of lines(file)) {
    if (looked++ >= LINES_LOOKED_AT) break
    const fields = fieldsOf(line)
    if (fields) addNames(headers, fields, '')
  }
  const paths = [...headers].map((header) => header.split('.'))
  return {
    headers: [...headers],
    firstRow: 1,
    async rows(columns, take, broken) {
      let number = 0
      const cells: Cell[] = []
      for (const line of lines(file)) {
        number++
        if (line.trim() === '') continue
        const fields = fieldsOf(line)
        if (!fields) {
          broken(number, line, 'must be a JSON object')
          continue
        }
        for (const column of columns) cells[column] = cellAt(fields, paths[column])
        if (take(cells, number) === false) return
      }
    },
  }
}

function* lines(file: LogFile): Generator<string> {
  let left = ''
  for (const piece of textPieces(file.bytes, file.name)) {
    const whole = (left + piece).split('\n')
    left = whole.pop() ?? ''
    yield* whole
  }
  if (left !== '') yield left
}

function fieldsOf(line: string): Fields | undefined {
  try {
    const value: unknown = JSON.parse(line)
    return typeof value === 'object' && value !== null && !Array.isArray(value) ? (value as Fields) : undefined
  } catch {
    return undefined
  }
}

function addNames(names: Set<string>, fields: Fields, before: string): void {
  for (const [name, value] of Object.entries(fields)) {
    if (Array.isArray(value) || name.includes('.')) continue
    if (typeof value === 'object' && value !== null) addNames(names, value as Fields, `${before}${name}.`)
    else names.add(before + name)
  }
}

function cellAt(fields: Fields, path: readonly string[]): Cell {
  let value: unknown = fields
  for (const name of path) value = typeof value === 'object' && value !== null ? (value as Fields)[name] : undefined
  return typeof value === 'object' ? undefined : (value as Cell)
}
