import fc from 'fast-check'
import { expect, it } from 'vitest'
import { clock } from './duration.ts'
import { parseStretch } from './stretch.ts'

const START = '2027-03-03T06:00:00+02:00' // a Wednesday

it('a weekday and time is the first such time after the start, its end the first after that', () => {
  expect(parseStretch('Wed 08:00 to Wed 10:30', START)).toEqual({ fromSeconds: 7200, untilSeconds: 16_200 })
  expect(parseStretch('Mon 00:00 to Monday 06:00', START)).toEqual({ fromSeconds: 4.75 * 86_400, untilSeconds: 5 * 86_400 })
  expect(parseStretch('Sun 23:00 to Wed 07:00', START)).toEqual({ fromSeconds: 4 * 86_400 + 17 * 3600, untilSeconds: 7 * 86_400 + 3600 })
  expect(parseStretch('1 h to 1 h 30 min', START)).toEqual({ fromSeconds: 3600, untilSeconds: 5400 })
})

it('what a clock shows is read as when it was', () => {
  const seconds = fc.integer({ min: 0, max: 7 * 1440 - 2 }).map((m) => m * 60)
  fc.assert(
    fc.property(seconds, seconds, (a, b) => {
      const read = parseStretch(`${clock(START, a)} to ${clock(START, b)}`, START)
      expect(read).toEqual({ fromSeconds: a, untilSeconds: b > a ? b : b + 7 * 86_400 })
    }),
    { seed: 1 },
  )
})

it.each(['', 'Mon', 'Mon 08:00', 'Mon 08:00 to', 'Mon 08:61 to Mon 09:00', 'Xyz 08:00 to Mon 09:00', '2 h to 1 h', '-1 h to 1 h'])(
  '“%s” is no stretch',
  (text) => expect(parseStretch(text, START)).toBeUndefined(),
)
