import { describe, expect, it } from 'vitest'
import { coveredFrom } from './committedPlaces.ts'

const stay = (from: number, until: number, width = 1) => ({ from, until, width })

describe('places that are committed to', () => {
  it('cover who comes while they are free, and who is there already once they get free', () => {
    expect(coveredFrom([stay(0, 5), stay(2, 9), stay(3, 4)], 1)).toEqual([0, 5, Infinity])
    expect(coveredFrom([stay(0, 5), stay(2, 9), stay(3, 8)], 2)).toEqual([0, 2, 5])
  })
  it('go to who was there first, of those who fit; all who go at one moment are gone before anybody moves', () => {
    expect(coveredFrom([stay(0, 5), stay(0, 5), stay(1, 9, 2), stay(2, 9)], 2)).toEqual([0, 0, 5, Infinity])
    expect(coveredFrom([stay(0, 5), stay(1, 9, 2), stay(2, 9)], 1)).toEqual([0, Infinity, 5])
    expect(coveredFrom([stay(0, 5), stay(1, 9), stay(5, 9)], 1)).toEqual([0, 5, Infinity])
  })
  it('are none where nobody commits, and nothing to who is there for no time', () => {
    expect(coveredFrom([stay(0, 5)], 0)).toEqual([Infinity])
    expect(coveredFrom([stay(3, 3), stay(3, 7)], 1)).toEqual([Infinity, 3])
  })
})
