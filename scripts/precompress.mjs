import { existsSync, readFileSync, readdirSync, statSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { brotliCompressSync, gzipSync } from 'node:zlib'

const TEXT = /\.(js|css|html|json|svg|wasm)$/
/** Smaller files are sent in one packet as they are. */
const LEAST_BYTES = 1024
const WAYS = [
  ['br', (bytes) => brotliCompressSync(bytes)],
  ['gz', (bytes) => gzipSync(bytes, { level: 9 })],
]

/** Lays compressed files beside those of a folder, once for each, so that none is compressed while somebody waits for it. */
export function precompress(folder) {
  for (const entry of readdirSync(folder, { recursive: true, withFileTypes: true })) {
    const file = join(entry.parentPath, entry.name)
    if (!entry.isFile() || !TEXT.test(file) || statSync(file).size < LEAST_BYTES) continue
    for (const [ending, compressed] of WAYS) {
      const made = `${file}.${ending}`
      if (!existsSync(made) || statSync(made).mtimeMs < statSync(file).mtimeMs) writeFileSync(made, compressed(readFileSync(file)))
    }
  }
}
