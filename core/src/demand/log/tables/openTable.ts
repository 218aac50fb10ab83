import { unpacked } from '../unpack.ts'
import { csvTable } from './csvTable.ts'
import { jsonTable } from './jsonTable.ts'
import { isParquet, parquetTable } from './parquetTable.ts'
import type { LogFile, LogTable } from './table.ts'

const OPEN_BRACE = 123

/** Opens a file as what its first bytes, unpacked, say that it is: Parquet, JSON lines, or lines with separators. */
export async function openTable(file: LogFile): Promise<LogTable> {
  if (isParquet(file.bytes)) return parquetTable(file)
  return firstByte(file) === OPEN_BRACE ? jsonTable(file) : csvTable(file)
}

/** The first that is no space and no mark of byte order. */
function firstByte({ bytes, name }: LogFile): number | undefined {
  for (const piece of unpacked(bytes, name)) {
    const found = piece.find((byte) => byte > 32 && byte < 128)
    if (found !== undefined) return found
  }
  return undefined
}
