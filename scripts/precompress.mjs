import { existsSync, readdirSync, statSync } from 'node:fs'
import { readFile, writeFile } from 'node:fs/promises'
import { join } from 'node:path'
import { promisify } from 'node:util'
import { brotliCompress, constants, gzip } from 'node:zlib'

const TEXT = /\.(js|css|html|jsonl?|svg|wasm)$/
/** Smaller files are sent in one packet as they are. */
const LEAST_BYTES = 1024
/** Above this the last hundredth of compression takes ten times as long: 9 s of the solver's 3.5 MB. */
const LARGE_BYTES = 1e6
const WAYS = [
  [
    'br',
    (bytes) => promisify(brotliCompress)(bytes, { params: { [constants.BROTLI_PARAM_QUALITY]: bytes.length > LARGE_BYTES ? 9 : 11 } }),
  ],
  ['gz', (bytes) => promisify(gzip)(bytes, { level: 9 })],
]

/** Lays compressed files beside those of a folder, once for each, so that none is compressed while somebody waits for it. */
export async function precompress(folder) {
  const work = readdirSync(folder, { recursive: true, withFileTypes: true }).flatMap((entry) => {
    const file = join(entry.parentPath, entry.name)
    if (!entry.isFile() || !TEXT.test(file) || statSync(file).size < LEAST_BYTES) return []
    return WAYS.map(async ([ending, compressed]) => {
      const made = `${file}.${ending}`
      if (!existsSync(made) || statSync(made).mtimeMs < statSync(file).mtimeMs)
        await writeFile(made, await compressed(await readFile(file)))
    })
  })
  await Promise.all(work)
}
