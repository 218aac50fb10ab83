import { shown } from '../../plan/problem.ts'
import { emptyRequests, pick, type Bytes } from '../requests.ts'
import { CALENDAR_FROM_SECONDS, secondsOf, sizeOf, textOfCell, wentWrong } from './cells.ts'
import type { LogColumns, LogField } from './logColumns.ts'
import { BAD_ROWS_KEPT, logName, type BadRow, type Happened, type RequestLog } from './requestLog.ts'
import type { Cell } from './tables/table.ts'

/** More classes than this in one log are a sign that the class column holds something else. */
const MOST_CLASSES = 50
const KEPT = ['at', 'classIndex', 'input', 'output', 'id'] as const

/** Numbers by the place of a row, with room for more. */
class ByRow<T extends Float64Array | Int32Array | Uint8Array> {
  values: T
  constructor(values: T) {
    this.values = values
  }
  set(row: number, value: number): void {
    if (row >= this.values.length) {
      const more = new (this.values.constructor as new (size: number) => T)(2 * Math.max(row, 1 << 15)) // of the same kind
      more.set(this.values)
      this.values = more
    }
    this.values[row] = value
  }
}

/** Gathers the rows of a log while its files are read; its arrays double as they fill. */
export class Collector {
  private readonly columns: LogColumns
  private store = emptyRequests(1 << 16)
  private count = 0
  private readonly classes = new Map<string, number>()
  private readonly callers = new Map<string, number>()
  private readonly took = new ByRow(new Float64Array(0))
  private readonly failed = new ByRow(new Uint8Array(0))
  private readonly asked = new ByRow(new Int32Array(0))
  private readonly badRows: BadRow[] = []
  private badRowCount = 0

  constructor(columns: LogColumns) {
    this.columns = columns
  }

  /** @param place column of each field in this file; @param row its number over all files */
  add(cells: readonly Cell[], place: Partial<Record<LogField, number>>, line: number, row: number, file: string | undefined): void {
    const at = secondsOf(cells[place.arrival ?? -1], this.columns.time)
    if (!Number.isFinite(at)) return this.bad('arrival', cells[place.arrival ?? -1], this.timeRule(), line, file)
    const input = sizeOf(cells[place.input ?? -1])
    const output = place.output === undefined ? 1 : sizeOf(cells[place.output])
    if (input < 0) return this.bad('input', cells[place.input ?? -1], SIZE_RULE, line, file)
    if (output < 0) return this.bad('output', cells[place.output ?? -1], SIZE_RULE, line, file)
    const name = place.class === undefined ? '' : textOfCell(cells[place.class])
    if (!this.classes.has(name) && this.classes.size >= MOST_CLASSES)
      return this.bad('class', name, `is one class more than the ${MOST_CLASSES} that a log may have`, line, file)
    this.keep(at, numbered(this.classes, name), input, output, row)
    if (place.duration !== undefined) this.took.set(row, secondsOf(cells[place.duration], this.columns.duration))
    if (place.status !== undefined) this.failed.set(row, wentWrong(cells[place.status]) ? 1 : 0)
    if (place.caller !== undefined) this.asked.set(row, numbered(this.callers, textOfCell(cells[place.caller])))
  }

  private timeRule(): string {
    return this.columns.time === 'calendar' ? 'must be a time such as 2027-03-01T09:00:00Z' : `must be a number of ${this.columns.time}`
  }

  /** A row that can not be used is counted, and the first of them are told. */
  bad(field: LogField | 'row', found: Cell, rule: string, line: number, file: string | undefined): void {
    this.badRowCount++
    if (this.badRows.length >= BAD_ROWS_KEPT) return
    const text = textOfCell(found)
    const header = field === 'row' ? 'row' : (this.columns.names[field] ?? field)
    this.badRows.push({
      line,
      ...(file !== undefined && { file }),
      field: header,
      found: text === '' ? 'empty' : shown(text.slice(0, 40)),
      rule,
    })
  }

  private keep(at: number, classIndex: number, input: number, output: number, row: number): void {
    if (this.count === this.store.count) this.grow()
    const i = this.count++
    this.store.at[i] = at
    this.store.classIndex[i] = classIndex
    this.store.input[i] = input
    this.store.output[i] = output
    this.store.id[i] = row
  }

  private grow(): void {
    const more = emptyRequests(this.store.count * 2)
    for (const key of KEPT) more[key].set(this.store[key])
    this.store = more
  }

  /** @param bytes where to put what is kept; see `emptyRequests` */
  finish(files: string[], bytes: Bytes): RequestLog {
    const requests = pick(this.store, inOrder(this.store.at.subarray(0, this.count)), bytes)
    const startSeconds = this.count === 0 ? 0 : requests.at[0]
    for (let i = 0; i < this.count; i++) requests.at[i] -= startSeconds
    const { duration, status, caller } = this.columns.names
    return {
      name: logName(files),
      files,
      requests,
      startSeconds,
      classNames: [...this.classes.keys()],
      isCalendar: this.columns.time === 'calendar' || startSeconds >= CALENDAR_FROM_SECONDS,
      columns: this.columns,
      ...((duration ?? status) !== undefined && { happened: this.happened(bytes) }),
      ...(caller !== undefined && { callers: copied(this.asked.values, bytes) }),
      badRows: this.badRows,
      badRowCount: this.badRowCount,
    }
  }

  private happened(bytes: Bytes): Happened {
    const size = Math.max(this.took.values.length, this.failed.values.length)
    const seconds = new Float64Array(new bytes(8 * size)).fill(NaN)
    const failed = new Uint8Array(new bytes(size))
    if (this.columns.names.duration !== undefined) seconds.set(this.took.values)
    failed.set(this.failed.values)
    return { seconds, failed }
  }
}

const SIZE_RULE = 'must be a whole number of at least 1'

function copied(values: Int32Array, bytes: Bytes): Int32Array {
  const to = new Int32Array(new bytes(4 * values.length))
  to.set(values)
  return to
}

function numbered(names: Map<string, number>, name: string): number {
  const known = names.get(name)
  if (known !== undefined) return known
  names.set(name, names.size)
  return names.size - 1
}

/** Places in order of arrival; rows of the same instant keep the order of the file. */
function inOrder(at: Float64Array): Int32Array {
  const order = Int32Array.from({ length: at.length }, (_, i) => i)
  let sorted = true
  for (let i = 1; i < at.length && sorted; i++) sorted = at[i] >= at[i - 1]
  return sorted ? order : order.sort((a, b) => at[a] - at[b] || a - b)
}
