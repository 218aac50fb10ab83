import { describe, expect, it } from 'vitest'
import { skerrySound } from '../../../examples/make/skerrySound.ts'
import { generateRequests } from './generate.ts'
import { histogram, loadPicture } from './loadPicture.ts'

const whole = (count: number, most: number) => Array.from({ length: count }, (_, i) => 1 + ((i * 7919 + (i % 13) * 104_729) % most))

describe('a histogram of sizes', () => {
  it('counts every value in the bin whose edges are around it', () => {
    for (const most of [1, 2, 9, 300, 90_000, 2_000_000_000]) {
      const values = whole(5000, most)
      const { edges, shares, median, p95 } = histogram(Float64Array.from(values))
      // An edge that is a power of ten is a whole number, which belongs above it; by rounding it may be a little more.
      shares.forEach((share, b) => {
        const inside = values.filter((v) => v >= edges[b] * (1 - 1e-9) && v < edges[b + 1] * (1 - 1e-9)).length
        expect(share).toBeCloseTo(inside / values.length, 12)
      })
      expect(shares.reduce((sum, s) => sum + s)).toBeCloseTo(1, 12)
      const sorted = values.toSorted((a, b) => a - b)
      expect([median, p95]).toEqual([sorted[2499], sorted[4749]])
    }
  })

  it('of nothing is no data', () => expect(histogram(new Int32Array(0))).toEqual({ edges: [], shares: [], median: null, p95: null }))
})

describe('the picture of a load', () => {
  const plan = { ...skerrySound, horizon: { ...skerrySound.horizon, seconds: 7200 } }
  const requests = generateRequests(plan, { seed: 1 })
  const pictures = loadPicture(plan, requests, 60)

  it('has every request of every class once, in its piece and in its bin', () => {
    plan.classes.forEach((requestClass, c) => {
      const places = Array.from(requests.classIndex.keys()).filter((i) => requests.classIndex[i] === c)
      const { count, rates, input, output } = pictures[c]
      expect(count).toBe(places.length)
      const inPiece = (piece: number) => places.filter((i) => Math.floor(requests.at[i] / 120) === piece).length
      rates.forEach((rate, piece) => expect(rate * 120).toBeCloseTo(inPiece(piece), 3))
      expect(input).toEqual(histogram(Int32Array.from(places, (i) => requests.input[i])))
      expect(output).toEqual(requestClass.work ? null : histogram(Int32Array.from(places, (i) => requests.output[i])))
    })
  })
})
