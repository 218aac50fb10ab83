/**
 * Mixes text and a seed into one 32-bit word (FNV-1a over the UTF-16 units, then the
 * finaliser of MurmurHash3). Small consecutive seeds give unrelated words.
 *
 * @param seed any integer; only its low 32 bits count
 * @returns an integer in [0, 2³²)
 * @example mix(1, 'arrivals') !== mix(2, 'arrivals')
 */
export function mix(seed: number, text: string): number {
  let h = 0x811c9dc5 ^ scramble(seed | 0)
  for (let i = 0; i < text.length; i++) {
    h = Math.imul(h ^ text.charCodeAt(i), 0x01000193)
  }
  return scramble(h)
}

/** The MurmurHash3 finaliser: every input bit changes about half of the output bits. */
export function scramble(word: number): number {
  let h = word
  h = Math.imul(h ^ (h >>> 16), 0x85ebca6b)
  h = Math.imul(h ^ (h >>> 13), 0xc2b2ae35)
  return (h ^ (h >>> 16)) >>> 0
}
