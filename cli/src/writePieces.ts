import { BadInput } from '@sandclock/core'
import { createWriteStream } from 'node:fs'
import { open } from 'node:fs/promises'
import { Readable } from 'node:stream'
import { pipeline } from 'node:stream/promises'
import { note } from './progress.ts'

/** Writes a file piece by piece. @throws BadInput when it can not be written */
export async function writePieces(file: string, pieces: Iterable<string>): Promise<void> {
  try {
    await pipeline(Readable.from(pieces), createWriteStream(file))
  } catch (error) {
    const why = error instanceof Error ? error.message : String(error)
    throw new BadInput(`${file} can not be written: ${why}.`, [])
  }
}

/** Whether a file can be written is known before what goes into it is made at some cost. @throws BadInput when it can not */
export async function checkWritable(file: string): Promise<void> {
  await open(file, 'a').then(
    (handle) => handle.close(),
    (error: Error) => {
      throw new BadInput(`${file} can not be written: ${error.message}.`, [])
    },
  )
}

/** Writes data as JSON, and says so. @throws BadInput when it can not be written */
export async function writeJson(file: string, data: unknown): Promise<void> {
  await writePieces(file, [`${JSON.stringify(data)}\n`])
  note(`wrote ${file}`)
}
