// @vitest-environment happy-dom
import type { Timeline } from '@sandclock/core'
import { beforeAll, describe, expect, it } from 'vitest'
import { paintLanes } from './lanes.ts'

beforeAll(() => {
  // The test's page has no canvas: this is as much of an image as is needed.
  globalThis.ImageData ??= class {
    readonly data: Uint8ClampedArray
    readonly width: number
    readonly height: number
    constructor(width: number, height: number) {
      this.width = width
      this.height = height
      this.data = new Uint8ClampedArray(width * height * 4)
    }
  } as unknown as typeof ImageData
})

// The parts that lanes are painted from.
const timeline = (inService: number[], pieces: number) => ({ pieces, inService: Float32Array.from(inService) }) as Timeline

describe('paintLanes', () => {
  it('is the more opaque the fuller, and leaves out what is empty', () => {
    const { image, rows } = paintLanes(timeline([0, 4, 8, 8], 2), 2, 8, 100, '#0f4c5c')
    expect(rows).toBe(2)
    const pixel = (i: number) => [...image.data.slice(i * 4, i * 4 + 4)]
    expect(pixel(0)).toEqual([0, 0, 0, 0])
    expect(pixel(1)).toEqual([15, 76, 92, Math.round(255 * (0.12 + 0.88 * 0.5))])
    expect(pixel(2)).toEqual([15, 76, 92, 255])
  })

  it('lets neighbours share a row where there are more replicas than rows, with their average', () => {
    const { image, rows } = paintLanes(timeline([8, 0, 8, 8], 1), 4, 8, 2, '#ffffff')
    expect(rows).toBe(2)
    expect([image.data[3], image.data[7]]).toEqual([Math.round(255 * (0.12 + 0.88 * 0.5)), 255])
  })
})
