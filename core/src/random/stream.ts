import { mix } from './mixer.ts'

/**
 * One named stream of random numbers: xoshiro128** (Blackman and Vigna, 2018), its state
 * all 128 bits filled through a mixer so that small seeds start well and no two
 * streams of a study share a state. The same (seed, name) gives the
 * same numbers on every platform: only 32-bit integer arithmetic is used.
 *
 * @example new RandomStream(1, 'pilot desk', 'arrivals').next()
 */
export class RandomStream {
  private a: number
  private b: number
  private c: number
  private d: number

  constructor(seed: number, ...name: string[]) {
    const text = name.join('\u0000')
    this.a = mix(seed, text, 0)
    this.b = mix(seed, text, 1)
    this.c = mix(seed, text, 2)
    this.d = mix(seed, text, 3) | 1 // an all-zero state would stay at zero
  }

  /** @returns an integer in [0, 2³²) */
  word(): number {
    const x = Math.imul(this.b, 5)
    const out = Math.imul((x << 7) | (x >>> 25), 9) >>> 0
    const t = this.b << 9
    this.c ^= this.a
    this.d ^= this.b
    this.b ^= this.c
    this.a ^= this.d
    this.c ^= t
    this.d = (this.d << 11) | (this.d >>> 21)
    return out
  }

  /** @returns a float64 in [0, 1) with 53 random bits */
  next(): number {
    const high = this.word() >>> 5
    const low = this.word() >>> 6
    return (high * 67108864 + low) / 9007199254740992
  }

  /** @returns a float64 in (0, 1): never an end, so that logarithms and quantiles are finite */
  open(): number {
    return (this.word() + 0.5 + this.word() / 4294967296 / 2) / 4294967296.5
  }
}
