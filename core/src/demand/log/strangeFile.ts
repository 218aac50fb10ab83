import { BadInput } from '../../plan/problem.ts'

/** What people drop that holds no table, by its first bytes, and what to do about it. */
const STRANGE: readonly { begins: readonly number[]; at?: number; rule: string }[] = [
  { begins: [0x89, 0x50, 0x4e, 0x47], rule: 'is a picture; drop the table behind it' },
  { begins: [0xff, 0xd8, 0xff], rule: 'is a picture; drop the table behind it' },
  { begins: [0x47, 0x49, 0x46, 0x38], rule: 'is a picture; drop the table behind it' },
  { begins: [0x25, 0x50, 0x44, 0x46], rule: 'is a PDF; have what it shows as CSV or JSON' },
  { begins: [0x50, 0x4b, 0x03, 0x04], rule: 'is a ZIP archive or a spreadsheet; unpack it, or save the sheet as CSV' },
  { begins: [0xd0, 0xcf, 0x11, 0xe0], rule: 'is an old spreadsheet or document; save it as CSV' },
  { begins: [0xff, 0xfe], rule: 'is text in UTF-16; save it as UTF-8' },
  { begins: [0xfe, 0xff], rule: 'is text in UTF-16; save it as UTF-8' },
  { begins: [0x42, 0x5a, 0x68], rule: 'is packed with bzip2; pack it with gzip or zstd' },
  { begins: [0xfd, 0x37, 0x7a, 0x58, 0x5a], rule: 'is packed with xz; pack it with gzip or zstd' },
  { begins: [0x75, 0x73, 0x74, 0x61, 0x72], at: 257, rule: 'is a tar archive; unpack it and drop the files that are in it' },
]

/**
 * Refuses what can be no table of requests whatever its columns are.
 *
 * @param beginning the first bytes of the file, unpacked
 * @throws BadInput that says what the file is and what to do
 */
export function refuseStrange(beginning: Uint8Array, name: string): void {
  const found = STRANGE.find(({ begins, at = 0 }) => begins.every((byte, i) => beginning[at + i] === byte))
  const rule = found?.rule ?? (isPage(beginning) ? 'is a web page; drop the data that it shows, as CSV or JSON' : undefined)
  if (rule !== undefined) throw new BadInput(`${name} holds no requests.`, [{ path: '', rule }])
}

const PAGE_BYTES = 200
const isPage = (bytes: Uint8Array) => /^\s*(<!doctype html|<html|<\?xml)/i.test(String.fromCharCode(...bytes.subarray(0, PAGE_BYTES)))
