/**
 * Mixes text and a seed into one 32-bit word (FNV-1a over the UTF-16 units, then the finaliser of MurmurHash3).
 * Small consecutive seeds give unrelated words, and so do different salts.
 *
 * @param seed any integer; only its low 32 bits count
 * @param salt for several words of the same seed and text
 * @returns an integer in [0, 2³²)
 * @example mix(1, 'arrivals') !== mix(2, 'arrivals')
 */
export function mix(seed: number, text: string, salt = 0): number {
  let h = scramble(scramble(seed | 0) + Math.imul(salt + 1, 0x9e3779b9))
  for (let i = 0; i < text.length; i++) {
    h = Math.imul(h ^ text.charCodeAt(i), 0x01000193)
    h ^= h >>> 15
  }
  return scramble(h)
}

/** The MurmurHash3 finaliser: every input bit changes about half of the output bits. */
export function scramble(word: number): number {
  let h = word | 0
  h = Math.imul(h ^ (h >>> 16), 0x85ebca6b)
  h = Math.imul(h ^ (h >>> 13), 0xc2b2ae35)
  return (h ^ (h >>> 16)) >>> 0
}

/**
 * A uniform number that belongs to (seed, index, purpose) alone, for draws whose order depends on the run.
 *
 * @param index any integer, such as a request's place
 * @param purpose a small integer ≥ 0 that keeps several draws of one index apart
 * @returns in [0, 1), in steps of 2⁻³²
 */
export function drawOf(seed: number, index: number, purpose: number): number {
  const word = scramble(scramble(seed | 0) + Math.imul(index + 1, 0x9e3779b9))
  return scramble(word ^ Math.imul(purpose + 1, 0x85ebca77)) / 4_294_967_296
}
