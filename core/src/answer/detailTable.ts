/** A table of what is behind a configuration: for those who read text. */
export interface DetailTable {
  title: string
  header: string[]
  rows: string[][]
}
