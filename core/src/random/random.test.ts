import { describe, expect, it } from 'vitest'
import { normalQuantile } from './normalQuantile.ts'
import { RandomStream } from './stream.ts'

describe('RandomStream', () => {
  it('gives the same numbers for the same seed and name, others for others', () => {
    const first = (seed: number, name: string) => new RandomStream(seed, name, 'arrivals').next()
    expect(first(1, 'pilot desk')).toBe(first(1, 'pilot desk'))
    expect(first(1, 'pilot desk')).not.toBe(first(2, 'pilot desk'))
    expect(first(1, 'pilot desk')).not.toBe(first(1, 'hull watch'))
  })

  it('has first draws over 20,000 small seeds that look uniform', () => {
    const bins = new Array<number>(20).fill(0)
    for (let seed = 0; seed < 20_000; seed++) bins[Math.floor(new RandomStream(seed, 'x').next() * 20)]++
    const chiSquare = bins.reduce((sum, n) => sum + (n - 1000) ** 2 / 1000, 0)
    expect(chiSquare).toBeLessThan(43.8) // 99.9 % point for 19 degrees of freedom
  })

  it('draws of open() stay strictly inside (0, 1) and have the mean and variance of a uniform', () => {
    const stream = new RandomStream(7, 'u')
    let sum = 0
    let squares = 0
    for (let i = 0; i < 200_000; i++) {
      const u = stream.open()
      if (!(u > 0 && u < 1)) throw new Error(`draw ${u} outside (0, 1)`)
      sum += u
      squares += u * u
    }
    expect(sum / 200_000).toBeCloseTo(0.5, 2)
    expect(squares / 200_000 - (sum / 200_000) ** 2).toBeCloseTo(1 / 12, 2)
  })
})

describe('normalQuantile', () => {
  it.each([
    [0.5, 0],
    [0.95, 1.6448536269514722],
    [0.975, 1.959963984540054],
    [1e-10, -6.361340902404056],
    [0.001, -3.090232306167813],
  ])('of %d is %d', (p, z) => expect(normalQuantile(p)).toBeCloseTo(z, 12))

  it('is odd about one half and not a number outside [0, 1]', () => {
    expect(normalQuantile(0.2)).toBeCloseTo(-normalQuantile(0.8), 14)
    expect(normalQuantile(0)).toBe(-Infinity)
    expect(normalQuantile(1.1)).toBeNaN()
    expect(normalQuantile(NaN)).toBeNaN()
  })
})
