import { describe, expect, it } from 'vitest'
import { firstSleep, occurrences, weekday, weekOffset } from './policyPlaces.ts'

const WEEK = 7 * 86_400
const monday = '2027-03-01T00:00:00Z'
const hours = (list: { from: number; until: number }[]) => list.map(({ from, until }) => [from / 3600, until / 3600])

describe('windows of a schedule on the picture', () => {
  it('come once a week on their day, and the next week again', () => {
    const window = { days: [4], from: '18:00', until: '20:30', min: 2 }
    expect(hours(occurrences(window, monday, 0, WEEK))).toEqual([[90, 92.5]])
    expect(hours(occurrences(window, monday, 0, 2 * WEEK))).toEqual([
      [90, 92.5],
      [258, 260.5],
    ])
    expect(occurrences(window, monday, 93 * 3600, 94 * 3600)).toEqual([])
  })

  it('go past midnight, and are seen by those who look after it', () => {
    expect(hours(occurrences({ days: [1], from: '22:00', until: '02:00', min: 2 }, monday, 25 * 3600, 30 * 3600))).toEqual([[22, 26]])
    expect(hours(occurrences({ days: [7], from: '22:00', until: '02:00', min: 2 }, monday, 0, 3600))).toEqual([[-2, 2]])
  })

  it('know the weekday of a horizon that begins in the middle of a week', () => {
    expect(weekOffset(monday)).toBe(0)
    expect(weekOffset('2027-03-03T06:00:00Z')).toBe((2 * 24 + 6) * 3600)
    expect(weekday('2027-03-03T06:00:00Z', 0)).toBe(3)
    expect(weekday('2027-03-03T06:00:00Z', 18 * 3600)).toBe(4)
    expect(hours(occurrences({ days: [3], from: '07:00', until: '08:00', min: 2 }, '2027-03-03T06:00:00Z', 0, 86_400))).toEqual([[1, 2]])
  })

  it('a sleep is where nobody is wanted any more', () => {
    expect(firstSleep({ seconds: [0, 50, 90], values: [1, 0, 1] }, 0, 100)).toBe(50)
    expect(firstSleep({ seconds: [0, 50, 90], values: [1, 0, 1] }, 60, 100)).toBeUndefined()
  })
})
