import { describe, expect, it } from 'vitest'
import { caller, sleeper } from '../../test/sleeper.ts'
import { enumerate } from '../candidate/enumerate.ts'
import { Load } from '../search/load.ts'
import { waitLeft } from './waitLeft.ts'

const every = (patience?: number) =>
  sleeper(
    Array.from({ length: 30 }, (_, i) => caller(`c${i}`, 36_000 + 5 * i)),
    'hold',
    patience,
  )
function leftOf(plan: ReturnType<typeof every>) {
  const [candidate] = enumerate(plan, plan.services[0])
  return waitLeft(plan, { service: candidate.service, candidate, groups: 1 }, new Load(plan))
}

describe('the wait that is left', () => {
  it('is reckoned by hand: callers every 5 s from the first one on, of a start-up of 150 s', () => {
    const { callers, after } = leftOf(every())
    // They wait 150, 145, … 5 s for it.
    expect(callers).toBe(30)
    expect(after[0]).toEqual({ seconds: 0, callers: 30, p50Seconds: 75, p90Seconds: 135 })
    // After a minute there are those left who wait 65, 70, … 150 s: half 105 or less, 90 of 100 at most 145 (the 17th of 18).
    expect(after.find((a) => a.seconds === 60)).toEqual({ seconds: 60, callers: 18, p50Seconds: 45, p90Seconds: 85 })
    expect(after.at(-1)?.seconds).toBe(90) // after two minutes six are left, which say little
  })

  it('does not look shorter because callers are impatient, and refuses nobody a figure', () => {
    expect(leftOf(every(20))).toEqual(leftOf(every()))
  })
})
