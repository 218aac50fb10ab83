import { beginsLikeHistory } from '../../../files/metrics/readHistory.ts'
import { BadInput } from '../../../plan/problem.ts'
import { unpacked } from '../unpack.ts'
import { csvTable } from './csvTable.ts'
import { jsonTable } from './jsonTable.ts'
import { isParquet, parquetTable } from './parquetTable.ts'
import type { LogFile, LogTable } from './table.ts'

const OPEN_BRACE = 123

/** Opens a file as what its first bytes, unpacked, say that it is: Parquet, JSON lines, or lines with separators. */
export async function openTable(file: LogFile): Promise<LogTable> {
  if (isParquet(file.bytes)) return parquetTable(file)
  if (beginsLikeHistory(beginning(file)))
    throw new BadInput(`${file.name} is a metrics history, not a log.`, [
      {
        path: '',
        rule: 'holds means over steps and no single requests; drop it on the page, or begin a plan with sandclock begin --from it',
      },
    ])
  return firstByte(file) === OPEN_BRACE ? jsonTable(file) : csvTable(file)
}

/** As much of the text as tells what it is, which is in the plainest letters. */
function beginning({ bytes, name }: LogFile): string {
  for (const piece of unpacked(bytes, name)) return String.fromCharCode(...piece.subarray(0, 4000))
  return ''
}

/** The first that is no space and no mark of byte order. */
function firstByte({ bytes, name }: LogFile): number | undefined {
  for (const piece of unpacked(bytes, name)) {
    const found = piece.find((byte) => byte > 32 && byte < 128)
    if (found !== undefined) return found
  }
  return undefined
}
