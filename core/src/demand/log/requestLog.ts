import type { Plan } from '../../plan/schema.ts'
import type { Requests } from '../requests.ts'
import type { LogColumns } from './logColumns.ts'

/** A row that was left out of a log, and why. */
export interface BadRow {
  /** number of the row in its file, a header being row 1 */
  line: number
  /** of several files, which one */
  file?: string
  field: string
  found: string
  rule: string
}

/** What really happened to the requests of a log, each at the place of its `id`. */
export interface Happened {
  /** NaN where the log does not say */
  seconds: Float64Array
  /** 1 for those that went wrong */
  failed: Uint8Array
}

/** A request log, cleaned: what could be read, and what could not. */
export interface RequestLog {
  /** what it is called where it is spoken of */
  name: string
  /** names of its files, in their order */
  files: string[]
  /** arrivals in seconds after `startSeconds`; `classIndex` points into `classNames`; `id` is the row, counted over all files */
  requests: Requests
  /** names of the classes in the log, in order of appearance; [""] without a class column */
  classNames: string[]
  /** the first arrival as the file gives it, in seconds; since 1970 if it is a time of the calendar */
  startSeconds: number
  isCalendar: boolean
  /** which column was taken for what */
  columns: LogColumns
  /** there if the log has a duration or a status */
  happened?: Happened
  /** who asked, by the place of `id`, as numbers from 0; there if the log says who */
  callers?: Int32Array
  /** the first bad rows, at most {@link BAD_ROWS_KEPT}, in order */
  badRows: BadRow[]
  /** all bad rows, counted */
  badRowCount: number
}

/** Names of the files of a log that a plan names, in their order. */
export const logFiles = (log: NonNullable<Plan['log']>): readonly string[] => (typeof log === 'string' ? [log] : log)

/** @example logName(['monday.csv', 'tuesday.csv', 'wednesday.csv']) // 'monday.csv and 2 more' */
export const logName = ([first = '', ...more]: readonly string[]): string =>
  more.length === 0 ? first : `${first} and ${more.length} more`

export const BAD_ROWS_KEPT = 100

/** A row as a sentence has it: "day.csv, line 3, arrival". */
export const placeOf = ({ file, line, field }: BadRow): string => [...(file === undefined ? [] : [file]), `line ${line}`, field].join(', ')
