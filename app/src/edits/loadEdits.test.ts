import { checkPlan, writePlan, type RequestClass } from '@sandclock/core'
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { demoPlan } from '../data/demo.ts'
import { giveWeek, laidOver, lay, paint, paintedOf, putLaid, removeLaid } from './loadEdits.ts'

const [first] = demoPlan.classes
const withArrivals = (arrivals: RequestClass['arrivals']) => ({
  ...demoPlan,
  classes: [{ ...first, arrivals }, ...demoPlan.classes.slice(1)],
})
const share = fc.double({ min: 0, max: 3, noNaN: true })
const weekly = fc
  .record({
    ratePerSecond: fc.double({ min: 0, max: 50, noNaN: true }),
    days: fc.array(share, { minLength: 7, maxLength: 7 }),
    hours: fc.array(share, { minLength: 24, maxLength: 24 }),
  })
  .map((a) => withArrivals({ kind: 'weekly', ...a }))

describe('painted rates', () => {
  it('are there as they were painted, whatever the plan had, and the plan is one', () => {
    fc.assert(
      fc.property(
        weekly,
        fc.constantFrom('hours' as const, 'days' as const),
        fc.infiniteStream(fc.double({ min: 0, max: 20, noNaN: true })),
        (plan, what, rates) => {
          const count = what === 'hours' ? 24 : 7
          const ratesPerSecond = Array.from({ length: count }, () => rates.next().value ?? 0)
          const after = checkPlan(paint(first.name, { what, ratesPerSecond })(plan))
          const seen = paintedOf(after.classes[0]).find((p) => p.what === what)?.ratesPerSecond ?? []
          const top = Math.max(...ratesPerSecond)
          seen.forEach((r, i) => expect(Math.abs(r - ratesPerSecond[i])).toBeLessThanOrEqual(1e-4 * top))
          expect(after.classes.slice(1)).toEqual(plan.classes.slice(1))
        },
      ),
      { numRuns: 300 },
    )
  })

  it('leave the shape of the other list alone', () => {
    const plan = withArrivals({
      kind: 'weekly',
      ratePerSecond: 4,
      days: [1, 1, 1, 1, 1, 0.5, 0.25],
      hours: Array.from({ length: 24 }, (_, h) => h / 23),
    })
    const hours = Array.from({ length: 24 }, (_, h) => (h === 12 ? 8 : 1))
    const { arrivals } = paint(first.name, { what: 'hours', ratesPerSecond: hours })(plan).classes[0]
    expect(arrivals).toMatchObject({ ratePerSecond: 8, days: [1, 1, 1, 1, 1, 0.5, 0.25] })
    expect(paintedOf({ ...first, arrivals })[1].ratesPerSecond).toEqual([8, 8, 8, 8, 8, 4, 2])
  })

  it('of a class that comes alike are none until it is given a week, which changes nothing that comes', () => {
    const plan = withArrivals({ kind: 'steady', ratePerSecond: 3, growthPerMonth: 0.1 })
    expect(paintedOf(plan.classes[0])).toEqual([])
    const after = checkPlan(giveWeek(first.name)(plan))
    expect(paintedOf(after.classes[0]).map((p) => new Set(p.ratesPerSecond))).toEqual([new Set([3]), new Set([3])])
    expect(after.classes[0].arrivals).toMatchObject({ growthPerMonth: 0.1 })
  })

  it('of single hours are those of the plan', () => {
    const plan = withArrivals({ kind: 'hourly', ratesPerSecond: [1, 2, 3] })
    const [painted] = paintedOf(plan.classes[0])
    const after = paint(first.name, { ...painted, ratesPerSecond: [1, 5, 3] })(plan)
    expect(after.classes[0].arrivals).toEqual({ kind: 'hourly', ratesPerSecond: [1, 5, 3] })
  })
})

describe('what is laid over a rate', () => {
  const plain = withArrivals({ kind: 'steady', ratePerSecond: 3 })

  it.each(['spikes', 'events'] as const)('is laid, moved and taken away: %s', (kind) => {
    const laid = checkPlan(lay(first.name, kind, 7200)(plain))
    const [one] = laidOver(laid, laid.classes[0])
    expect(one).toEqual({ kind, index: 0, fromSeconds: 7200, untilSeconds: 14_400, factor: 2 })
    const moved = checkPlan(putLaid(first.name, { ...one, fromSeconds: 3600, untilSeconds: 5400, factor: 4 })(laid))
    expect(laidOver(moved, moved.classes[0])).toEqual([{ ...one, fromSeconds: 3600, untilSeconds: 5400, factor: 4 }])
    const gone = removeLaid(first.name, one)(moved)
    expect(writePlan(checkPlan(gone))).toBe(writePlan(checkPlan(plain)))
  })

  it('keeps the names of events, and the others of a list', () => {
    const events = [
      { name: 'regatta', from: '2027-03-02T10:00:00+01:00', until: '2027-03-02T12:00:00+01:00', factor: 3 },
      { from: '2027-03-03T10:00:00Z', until: '2027-03-03T12:00:00Z', factor: 1.5 },
    ]
    const plan = withArrivals({ kind: 'steady', ratePerSecond: 3, events })
    const [regatta] = laidOver(plan, plan.classes[0])
    const { arrivals } = putLaid(first.name, { ...regatta, factor: 5 })(plan).classes[0]
    expect(arrivals).toMatchObject({ events: [{ name: 'regatta', from: '2027-03-02T09:00:00Z', factor: 5 }, events[1]] })
  })
})
