/** What a row of a log has in a column, whatever the file is. */
export type Cell = string | number | bigint | boolean | Date | null | undefined

/** Gets the cells of a row; its number counts rows from 1, a header among them. Ends the reading by saying false. */
export type TakeRow = (cells: readonly Cell[], number: number) => boolean | void

/** A file of a log, opened: what its columns are called, and its rows. */
export interface LogTable {
  headers: string[]
  /** the number of its first row: 2 behind a header */
  firstRow: 1 | 2
  /**
   * Goes through the rows.
   *
   * @param columns places of those that are wanted; the others need not be read, and are not where the file allows it
   * @param broken gets the number of a row that is none, and why
   */
  rows(columns: readonly number[], take: TakeRow, broken: (number: number, found: string, rule: string) => void): Promise<void>
}

export interface LogFile {
  name: string
  bytes: Uint8Array
}
