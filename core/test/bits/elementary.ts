import { decimalExponent, exp, ln } from '../../src/arithmetic/sameBits.ts'
import { normalCdf } from '../../src/random/normalCdf.ts'
import { normalQuantile } from '../../src/random/normalQuantile.ts'
import { RandomStream } from '../../src/random/stream.ts'
import { Digest } from './digest.ts'

const ARGUMENTS = 10_000_000
/** For those that are made of the two above, and for text. */
const FEWER = 500_000
const BLOCK = 65_536

/** Positive float64 of every size: all bits but the sign are drawn, exponents of infinity left out. */
function anyPositive(random: RandomStream): number {
  WORDS[0] = random.word()
  WORDS[1] = random.word() & 0x7fffffff
  return FLOAT[0] < Infinity ? FLOAT[0] : 1
}
const FLOAT = new Float64Array(1)
const WORDS = new Uint32Array(FLOAT.buffer)

/** Values of a function over so many arguments, as a digest. */
function digestOver(count: number, name: string, value: (random: RandomStream, i: number) => number): string {
  const random = new RandomStream(1, 'bits', name)
  const digest = new Digest()
  const block = new Float64Array(BLOCK)
  for (let done = 0; done < count; done += BLOCK) {
    const size = Math.min(BLOCK, count - done)
    for (let i = 0; i < size; i++) block[i] = value(random, i)
    digest.add(block.subarray(0, size))
  }
  return digest.text()
}

/**
 * Digests of elementary functions: a half of the arguments where the core uses them, a quarter around 1 (or 0), where the
 * last bit is hardest, a quarter over all that there are.
 */
export function elementaryDigests(): Record<string, string> {
  return {
    ln: digestOver(ARGUMENTS, 'ln', (random, i) =>
      ln(i % 2 === 0 ? random.open() : i % 4 === 1 ? 0.5 + random.next() * 1.5 : anyPositive(random)),
    ),
    exp: digestOver(ARGUMENTS, 'exp', (random, i) => exp((random.next() - 0.5) * (i % 2 === 0 ? 20 : i % 4 === 1 ? 1 : 1500))),
    normalQuantile: digestOver(FEWER, 'quantile', (random) => normalQuantile(random.open())),
    normalCdf: digestOver(FEWER, 'cdf', (random) => normalCdf((random.next() - 0.5) * 20)),
    decimalExponent: digestOver(FEWER, 'decimal exponent', (random) => decimalExponent(anyPositive(random))),
  }
}
