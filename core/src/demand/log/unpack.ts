import { DecodeUTF8, Gunzip } from 'fflate'
import { Decompress } from 'fzstd'
import { BadInput } from '../../plan/problem.ts'

/** So much is unpacked and decoded at a time: a file of some hundred megabytes is never held as one text. */
const PIECE_BYTES = 1 << 16

type Way = 'plain' | 'gzip' | 'zstd'

/** How a file is packed, told by its first bytes and not by its name. */
export function packedAs(bytes: Uint8Array): Way {
  if (bytes[0] === 0x1f && bytes[1] === 0x8b) return 'gzip'
  if (bytes[0] === 0x28 && bytes[1] === 0xb5 && bytes[2] === 0x2f && bytes[3] === 0xfd) return 'zstd'
  return 'plain'
}

/** What unpacks: bytes are pushed in, what came of them is handed on. */
interface Unpacker {
  push(bytes: Uint8Array, last: boolean): unknown
}

const UNPACKERS: Record<Way, (take: (bytes: Uint8Array) => void) => Unpacker> = {
  plain: (take) => ({ push: take }),
  gzip: (take) => new Gunzip(take),
  zstd: (take) => new Decompress(take),
}

/**
 * The unpacked bytes of a file, piece by piece.
 *
 * @throws BadInput when the compressed data is damaged or ends too early
 */
export function* unpacked(bytes: Uint8Array, name: string): Generator<Uint8Array> {
  const way = packedAs(bytes)
  let ready: Uint8Array[] = []
  const unpacker = UNPACKERS[way]((piece) => ready.push(piece))
  for (let from = 0; from < bytes.length; from += PIECE_BYTES) {
    try {
      unpacker.push(bytes.subarray(from, from + PIECE_BYTES), from + PIECE_BYTES >= bytes.length)
    } catch {
      throw damaged(name, way)
    }
    const now = ready
    ready = []
    yield* now
  }
}

const damaged = (name: string, way: Way) =>
  new BadInput(`${name} can not be opened.`, [{ path: '', rule: `is a damaged ${way} file; fetch or compress it again` }])

/** The text of a file, piece by piece; UTF-8, and a mark of byte order at its start is left out. */
export function* textPieces(bytes: Uint8Array, name: string): Generator<string> {
  let text = ''
  const decoder = new DecodeUTF8((piece) => (text += piece))
  let first = true
  for (const piece of unpacked(bytes, name)) {
    decoder.push(piece, false)
    if (text === '') continue
    yield first && text.charCodeAt(0) === 0xfeff ? text.slice(1) : text
    first = false
    text = ''
  }
}

/**
 * The whole text of a file that may be compressed.
 *
 * @throws BadInput when the compressed data is damaged
 */
export const textOf = (bytes: Uint8Array, name: string): string => [...textPieces(bytes, name)].join('')
