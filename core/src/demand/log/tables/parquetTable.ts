import { parquetMetadataAsync, parquetReadObjects, parquetSchema } from 'hyparquet'
import { compressors } from 'hyparquet-compressors'
import { BadInput } from '../../../plan/problem.ts'
import type { Cell, LogFile, LogTable } from './table.ts'

/** Rows that are read at a time. */
const ROWS_AT_ONCE = 50_000

/** Whether a file begins as Parquet does. */
export const isParquet = (bytes: Uint8Array): boolean => bytes[0] === 80 && bytes[1] === 65 && bytes[2] === 82 && bytes[3] === 49

/**
 * A Parquet file: only the columns that are wanted are read of it.
 *
 * @throws BadInput when it is damaged
 */
export async function parquetTable({ name, bytes }: LogFile): Promise<LogTable> {
  const file = { byteLength: bytes.length, slice: (from: number, until?: number) => Promise.resolve(bytes.slice(from, until).buffer) }
  const metadata = await parquetMetadataAsync(file).catch((error: unknown) => {
    throw damaged(name, error)
  })
  const headers = parquetSchema(metadata)
    .children.filter(({ children }) => children.length === 0)
    .map(({ element }) => element.name)
  return {
    headers,
    firstRow: 1,
    async rows(columns, take) {
      const wanted = columns.map((c) => headers[c])
      const count = Number(metadata.num_rows)
      const cells: Cell[] = []
      for (let from = 0; from < count; from += ROWS_AT_ONCE) {
        const options = { file, metadata, columns: wanted, compressors, rowStart: from, rowEnd: Math.min(count, from + ROWS_AT_ONCE) }
        const rows = await parquetReadObjects(options).catch((error: unknown) => {
          throw damaged(name, error)
        })
        for (let i = 0; i < rows.length; i++) {
          for (let j = 0; j < columns.length; j++) cells[columns[j]] = rows[i][wanted[j]] as Cell
          if (take(cells, from + i + 1) === false) return
        }
      }
    },
  }
}

const damaged = (name: string, error: unknown) =>
  new BadInput(`${name} can not be opened.`, [
    { path: '', rule: `is a damaged Parquet file (${error instanceof Error ? error.message : String(error)}); write or fetch it again` },
  ])
