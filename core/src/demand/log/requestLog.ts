import type { Requests } from '../requests.ts'

/** A row that was left out of a log, and why. */
export interface BadRow {
  /** number of the line in the file, the header being line 1 */
  line: number
  field: string
  found: string
  rule: string
}

/** A request log, cleaned: what could be read, and what could not. */
export interface RequestLog {
  name: string
  /** arrivals in seconds after `startSeconds`; `classIndex` points into `classNames` */
  requests: Requests
  /** names of the classes in the log, in order of appearance; [""] without a class column */
  classNames: string[]
  /** the first arrival as the file gives it: seconds, or seconds since 1970 for ISO times */
  startSeconds: number
  iso: boolean
  /** which header was taken for which field */
  headers: Partial<Record<LogField, string>>
  /** the first bad rows, at most {@link BAD_ROWS_KEPT}, in order */
  badRows: BadRow[]
  /** all bad rows, counted */
  badRowCount: number
}

export type LogField = 'arrival' | 'input' | 'output' | 'class'

export const BAD_ROWS_KEPT = 100
