import { gunzipSync } from 'fflate'
import { BadInput } from '../../plan/problem.ts'

/**
 * Text of a file that may be gzip-compressed (told by its first two bytes, not by its name). UTF-8.
 *
 * @throws BadInput when the compressed data is damaged
 */
export function textOf(bytes: Uint8Array, name: string, decode: (bytes: Uint8Array) => string): string {
  if (bytes[0] !== 0x1f || bytes[1] !== 0x8b) return decode(bytes)
  try {
    return decode(gunzipSync(bytes))
  } catch {
    throw new BadInput(`${name} can not be opened.`, [{ path: '', rule: 'is a damaged gzip file; fetch or compress it again' }])
  }
}
