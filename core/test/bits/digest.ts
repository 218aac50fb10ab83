/** Anything whose bytes can be looked at. */
type Bytes = Pick<Uint8Array, 'buffer' | 'byteOffset' | 'byteLength'>

/** FNV-1a over all words (bytes, where they are no whole words), with a second pass of another offset. */
export class Digest {
  private a = 0x811c9dc5
  private b = 0x1234567

  add({ buffer, byteOffset, byteLength }: Bytes): void {
    let { a, b } = this
    const isWords = byteOffset % 4 === 0 && byteLength % 4 === 0
    const words = isWords ? new Uint32Array(buffer, byteOffset, byteLength / 4) : new Uint8Array(buffer, byteOffset, byteLength)
    for (let i = 0; i < words.length; i++) {
      a = Math.imul(a ^ words[i], 0x01000193)
      a ^= a >>> 15 // a multiplication moves bits up only
      b = Math.imul(b ^ words[i], 0x01000193) ^ (b >>> 13)
    }
    this.a = a
    this.b = b
  }

  text(): string {
    return `${(this.a >>> 0).toString(16)} ${(this.b >>> 0).toString(16)}`
  }
}

export function digestOf(arrays: readonly Bytes[]): string {
  const digest = new Digest()
  arrays.forEach((array) => digest.add(array))
  return digest.text()
}

/** A digest of anything that is JSON: numbers are written so that they read back as themselves. */
export function digestOfText(value: unknown): string {
  return digestOf([Uint16Array.from(JSON.stringify(value), (c) => c.charCodeAt(0))])
}
