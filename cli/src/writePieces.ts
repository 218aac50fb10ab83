import { BadInput } from '@sandclock/core'
import { createWriteStream } from 'node:fs'
import { Readable } from 'node:stream'
import { pipeline } from 'node:stream/promises'

/** Writes a file piece by piece. @throws BadInput when it can not be written */
export async function writePieces(file: string, pieces: Iterable<string>): Promise<void> {
  try {
    await pipeline(Readable.from(pieces), createWriteStream(file))
  } catch (error) {
    const why = error instanceof Error ? error.message : String(error)
    throw new BadInput(`${file} can not be written: ${why}.`, [])
  }
}
