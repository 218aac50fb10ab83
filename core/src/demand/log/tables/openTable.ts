import { beginsLikeHistory } from '../../../files/metrics/readHistory.ts'
import { BadInput } from '../../../plan/problem.ts'
import { refuseStrange } from '../strangeFile.ts'
import { unpacked } from '../unpack.ts'
import { csvTable } from './csvTable.ts'
import { jsonTable } from './jsonTable.ts'
import { isParquet, parquetTable } from './parquetTable.ts'
import type { LogFile, LogTable } from './table.ts'

const OPEN_BRACE = 123

/** Opens a file as what its first bytes, unpacked, say that it is: Parquet, JSON lines, or lines with separators. */
export async function openTable(file: LogFile): Promise<LogTable> {
  if (isParquet(file.bytes)) return parquetTable(file)
  const first = beginning(file)
  refuseStrange(first, file.name)
  if (beginsLikeHistory(String.fromCharCode(...first)))
    throw new BadInput(`${file.name} is a metrics history, not a log.`, [
      {
        path: '',
        rule: 'holds means over steps and no single requests; drop it on the page, or begin a plan with sandclock begin --from it',
      },
    ])
  return firstByte(file) === OPEN_BRACE ? jsonTable(file) : csvTable(file)
}

/** As much of the file as tells what it is. */
function beginning({ bytes, name }: LogFile): Uint8Array {
  for (const piece of unpacked(bytes, name)) return piece.subarray(0, 4000)
  return new Uint8Array()
}

/** The first that is no space and no mark of byte order. */
function firstByte({ bytes, name }: LogFile): number | undefined {
  for (const piece of unpacked(bytes, name)) {
    const found = piece.find((byte) => byte > 32 && byte < 128)
    if (found !== undefined) return found
  }
  return undefined
}
