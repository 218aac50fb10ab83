import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { FinishHeaps } from './finishHeaps.ts'
import { leapSeconds, leapStepsUntil } from './leap.ts'
import { LeastBusy } from './leastBusy.ts'
import { Lines } from './lines.ts'
import { MissWatch } from './missWatch.ts'
import { Patience } from './patience.ts'
import { ReplicaClock } from './replicaClock.ts'
import { makeRequests } from '../../test/makeRequests.ts'

const costs = fc.record({
  a: fc.double({ min: 1e-4, max: 0.1, noNaN: true }), s: fc.oneof(fc.constant(0), fc.double({ min: 1e-9, max: 1e-3, noNaN: true })),
  c: fc.double({ min: 0, max: 0.2, noNaN: true }), o: fc.double({ min: 1e-4, max: 0.01, noNaN: true }),
})

describe('a leap', () => {
  it('takes as long as its steps one after another', () => {
    fc.assert(fc.property(costs, fc.integer({ min: 0, max: 3000 }), ({ a, s, c, o }, j) => {
      let walked = 0
      for (let i = 0; i < j; i++) walked += Math.max(a + i * s, c) + o
      expect(Math.abs(leapSeconds(a, s, c, o, j) - walked)).toBeLessThan(1e-9 * Math.max(1, walked))
    }), { numRuns: 400, seed: 21 })
  })

  it('is cut at the first boundary at or after a time', () => {
    fc.assert(fc.property(costs, fc.integer({ min: 1, max: 3000 }), fc.double({ min: 0, max: 1, noNaN: true }), ({ a, s, c, o }, most, share) => {
      const seconds = share * leapSeconds(a, s, c, o, most)
      const j = leapStepsUntil(a, s, c, o, seconds, most)
      expect(j).toBeGreaterThanOrEqual(1)
      expect(j).toBeLessThanOrEqual(most)
      expect(leapSeconds(a, s, c, o, j)).toBeGreaterThanOrEqual(seconds)
      if (j > 1) expect(leapSeconds(a, s, c, o, j - 1)).toBeLessThan(seconds)
    }), { numRuns: 600, seed: 22 })
  })
})

describe('ReplicaClock', () => {
  it('gives the earliest event, ties to the lowest replica, whatever was set before', () => {
    const sets = fc.array(fc.tuple(fc.nat(6), fc.constantFrom(0, 1, 1, 2, 3.5, Infinity)), { maxLength: 60 })
    fc.assert(fc.property(sets, (list) => {
      const clock = new ReplicaClock(7)
      const times = new Array<number>(7).fill(Infinity)
      for (const [r, t] of list) {
        clock.set(r, t)
        times[r] = t
        expect(clock.first()).toBe(times.indexOf(Math.min(...times)))
        expect(clock.firstTime()).toBe(Math.min(...times))
      }
    }), { numRuns: 300, seed: 23 })
  })

  it('refuses a time that is none', () => {
    expect(() => new ReplicaClock(1).set(0, NaN)).toThrow(RangeError)
  })
})

describe('LeastBusy', () => {
  it('finds the smallest load, ties to the lowest number, among those that are open', () => {
    const steps = fc.array(fc.tuple(fc.nat(9), fc.constantFrom(1, 1, -1)), { maxLength: 80 })
    fc.assert(fc.property(steps, fc.uniqueArray(fc.nat(9), { minLength: 1 }), (list, open) => {
      const busy = new LeastBusy(10)
      const load = new Array<number>(10).fill(Infinity)
      for (const r of open) {
        busy.open(r)
        load[r] = 0
      }
      for (const [r, change] of list) {
        if (load[r] === Infinity || load[r] + change < 0) continue
        busy.add(r, change)
        load[r] += change
        expect(busy.first()).toBe(load.indexOf(Math.min(...load)))
        expect(busy.of(r)).toBe(load[r])
      }
    }), { numRuns: 300, seed: 24 })
  })

  it('finds nobody when nobody is open', () => {
    expect(new LeastBusy(3).first()).toBe(-1)
  })
})

describe('Lines', () => {
  it('are first in, first out, and skip those who left from the middle or the head', () => {
    const outcome = new Uint8Array(6)
    const lines = new Lines(2, outcome)
    for (const request of [0, 1, 2, 3]) lines.push(0, request)
    lines.push(1, 4)
    for (const gone of [0, 2]) {
      outcome[gone] = 3
      lines.left(0)
    }
    expect(lines.length[0]).toBe(2)
    expect(lines.peek(0)).toBe(1)
    expect([lines.shift(0), lines.shift(0)]).toEqual([1, 3])
    expect(lines.peek(0)).toBe(-1)
    lines.push(0, 5)
    expect(lines.peek(0)).toBe(5)
    expect(lines.shift(1)).toBe(4)
  })

  it('take a request on from one line to another', () => {
    const lines = new Lines(2, new Uint8Array(3))
    lines.push(0, 0)
    lines.push(0, 1)
    lines.push(1, lines.shift(0))
    expect([lines.peek(0), lines.peek(1)]).toEqual([1, 0])
  })
})

describe('FinishHeaps', () => {
  it('give sequences in order of the step with which they finish, each replica its own', () => {
    const steps = fc.array(fc.nat(20), { minLength: 1, maxLength: 30 })
    fc.assert(fc.property(steps, steps, (a, b) => {
      const heaps = new FinishHeaps(2, 30)
      a.forEach((step, i) => heaps.push(0, step, i))
      b.forEach((step, i) => heaps.push(1, step, 100 + i))
      const drain = (r: number) => Array.from({ length: heaps.size[r] }, () => [heaps.firstStep(r), heaps.pop(r)])
      const sorted = (list: number[], from: number) => list.map((step, i) => [step, from + i]).sort((x, y) => x[0] - y[0] || x[1] - y[1])
      expect(drain(0)).toEqual(sorted(a, 0))
      expect(drain(1)).toEqual(sorted(b, 100))
    }), { numRuns: 200, seed: 25 })
  })
})

describe('Patience', () => {
  it('runs out in order of arrival plus the patience of the class', () => {
    const requests = makeRequests([[0, 1, 1, 0], [1, 1, 1, 1], [2, 1, 1, 0], [3, 1, 1, 1]])
    const patience = new Patience(requests, [10, 2])
    const order: [number, number][] = []
    while (patience.next() < Infinity) {
      const deadline = patience.next()
      order.push([deadline, patience.take(deadline)])
    }
    expect(order).toEqual([[3, 1], [5, 3], [10, 0], [12, 2]])
  })

  it('never runs out for a class without', () => {
    expect(new Patience(makeRequests([[0, 1, 1]]), [Infinity]).next()).toBe(Infinity)
  })
})

describe('MissWatch', () => {
  const watch = () => new MissWatch([{ classIndex: 0, measure: 'ttft', seconds: 1, allowedMisses: 1 }, { classIndex: 1, measure: 'tpot', seconds: 0.1, allowedMisses: 0 }], 2, 100)

  it('tells a promise broken with the first miss too many', () => {
    const w = watch()
    w.finished(0, 200, 200, 201.5, 210, 5)
    expect(w.broken).toBe(-1)
    w.lost(0, 205)
    expect(w.broken).toBe(0)
    expect([...w.misses]).toEqual([2, 0])
  })

  it('does not count the warm-up, and answers of one token have no time per further token', () => {
    const w = watch()
    w.finished(0, 50, 90, 95, 99, 5)
    w.lost(0, 99.9)
    w.finished(1, 200, 200, 201, 201, 1)
    expect([...w.misses]).toEqual([0, 0])
    w.finished(1, 200, 200, 201, 202, 6)
    expect(w.broken).toBe(1)
  })
})
