import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { Comings } from './comings.ts'
import { FinishLines } from './finishLines.ts'
import { Leaps } from './leaps.ts'
import { LeastBusy } from './leastBusy.ts'
import { levelsOf, Lines } from './lines.ts'
import { MissWatch } from './missWatch.ts'
import { Patience } from './patience.ts'
import { callersOf, RateLimits } from './rateLimits.ts'
import { ReplicaClock } from './replicaClock.ts'
import { routerOf } from './router.ts'
import { freshColumns, RunMemory } from './runMemory.ts'
import { classRules } from '../../test/makeProfiles.ts'
import { makeRequests } from '../../test/makeRequests.ts'

const costs = fc.record({
  a: fc.double({ min: 1e-4, max: 0.1, noNaN: true }),
  s: fc.oneof(fc.constant(0), fc.double({ min: 1e-9, max: 1e-3, noNaN: true })),
  c: fc.double({ min: 0, max: 0.2, noNaN: true }),
  o: fc.double({ min: 1e-4, max: 0.01, noNaN: true }),
  q: fc.oneof(fc.constant(0), fc.double({ min: 1e-7, max: 1e-3, noNaN: true })),
})

function leapOf({ a, s, c, o, q }: Record<'a' | 's' | 'c' | 'o' | 'q', number>, planned: number): Leaps {
  const leaps = new Leaps(2)
  leaps.begin(1, 0, planned, a, s, c, o, q)
  return leaps
}

describe('a leap', () => {
  it('takes as long as its steps one after another', () => {
    fc.assert(
      fc.property(costs, fc.integer({ min: 0, max: 3000 }), (step, j) => {
        let walked = 0
        for (let i = 0; i < j; i++) walked += Math.max(step.a + i * step.s, step.c) + step.o + i * step.q
        expect(Math.abs(leapOf(step, j).seconds(1, j) - walked)).toBeLessThan(1e-9 * Math.max(1, walked))
      }),
      { numRuns: 400, seed: 21 },
    )
  })

  it('is cut at the first boundary at or after a time', () => {
    fc.assert(
      fc.property(costs, fc.integer({ min: 1, max: 3000 }), fc.double({ min: 0, max: 1, noNaN: true }), (step, most, share) => {
        const leap = leapOf(step, most)
        const seconds = share * leap.seconds(1, most)
        const j = leap.stepsUntil(1, seconds)
        expect(j).toBeGreaterThanOrEqual(1)
        expect(j).toBeLessThanOrEqual(most)
        expect(leap.seconds(1, j)).toBeGreaterThanOrEqual(seconds)
        if (j > 1) expect(leap.seconds(1, j - 1)).toBeLessThan(seconds)
      }),
      { numRuns: 600, seed: 22 },
    )
  })
})

describe('ReplicaClock', () => {
  it('gives the earliest event, ties to the lowest replica, whatever was set before', () => {
    const sets = fc.array(fc.tuple(fc.nat(6), fc.constantFrom(0, 1, 1, 2, 3.5, Infinity)), { maxLength: 60 })
    fc.assert(
      fc.property(sets, (list) => {
        const clock = new ReplicaClock(7)
        const times = new Array<number>(7).fill(Infinity)
        for (const [r, t] of list) {
          clock.set(r, t)
          times[r] = t
          expect(clock.first()).toBe(times.indexOf(Math.min(...times)))
          expect(clock.firstTime()).toBe(Math.min(...times))
        }
      }),
      { numRuns: 300, seed: 23 },
    )
  })

  it('refuses a time that is none', () => {
    expect(() => new ReplicaClock(1).set(0, NaN)).toThrow(RangeError)
  })
})

describe('LeastBusy', () => {
  it('finds the smallest load, ties to the lowest number, among those that are open', () => {
    const steps = fc.array(fc.tuple(fc.nat(9), fc.constantFrom(1, 1, -1)), { maxLength: 80 })
    // Eight and fewer are looked through, more play a tournament.
    fc.assert(
      fc.property(steps, fc.uniqueArray(fc.nat(9), { minLength: 1 }), fc.boolean(), (all, opened, few) => {
        const within = few ? 6 : 10
        const list = all.filter(([r]) => r < within)
        const open = opened.filter((r) => r < within)
        const busy = new LeastBusy(within)
        if (open.length === 0) return
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
      }),
      { numRuns: 300, seed: 24 },
    )
  })

  it('finds nobody when nobody is open', () => {
    expect(new LeastBusy(3).first()).toBe(-1)
  })
})

describe('Lines', () => {
  it('are first in, first out within a priority, whoever leaves from the middle or is put back', () => {
    const acts = fc.array(
      fc.oneof(
        fc.record({ act: fc.constant('push' as const), request: fc.nat(19) }),
        fc.record({ act: fc.constant('back' as const), request: fc.nat(19) }),
        fc.record({ act: fc.constant('shift' as const) }),
        fc.record({ act: fc.constant('leave' as const), request: fc.nat(19) }),
      ),
      { maxLength: 80 },
    )
    fc.assert(
      fc.property(acts, fc.integer({ min: 1, max: 3 }), (list, classes) => {
        const classIndex = Uint8Array.from({ length: 20 }, (_, i) => i % classes)
        const lines = new Lines(2, levelsOf(Array.from({ length: classes }, (_, c) => c * 5)), classIndex, freshColumns(classIndex.length))
        let plain: number[] = []
        const priority = (r: number) => classIndex[r]
        for (const one of list) {
          const isIn = 'request' in one && plain.includes(one.request)
          if (one.act === 'push' && !isIn) {
            const place = plain.findIndex((r) => priority(r) < priority(one.request))
            plain.splice(place < 0 ? plain.length : place, 0, one.request)
            lines.push(1, one.request)
          } else if (one.act === 'back' && !isIn) {
            const place = plain.findIndex((r) => priority(r) <= priority(one.request))
            plain.splice(place < 0 ? plain.length : place, 0, one.request)
            lines.putBack(1, one.request)
          } else if (one.act === 'shift' && plain.length > 0) expect(lines.shift(1)).toBe(plain.shift())
          else if (one.act === 'leave' && isIn) {
            lines.remove(1, one.request)
            plain = plain.filter((r) => r !== one.request)
          }
          const walked = []
          for (let r = lines.peek(1); r >= 0; r = lines.after(1, r)) walked.push(r)
          expect(walked).toEqual(plain)
          expect(lines.length[1]).toBe(plain.length)
          expect(lines.peek(0)).toBe(-1)
        }
      }),
      { numRuns: 300, seed: 29 },
    )
  })
})

describe('Comings', () => {
  it('are in order of time, at one time of the request', () => {
    fc.assert(
      fc.property(fc.array(fc.tuple(fc.nat(5), fc.nat(50)), { minLength: 1, maxLength: 40 }), (list) => {
        const comings = new Comings()
        for (const [time, request] of list) comings.push(time, request)
        const drained = list.map(() => [comings.firstTime(), comings.pop()])
        expect(drained).toEqual([...list].sort((a, b) => a[0] - b[0] || a[1] - b[1]))
        expect(comings.firstTime()).toBe(Infinity)
      }),
      { numRuns: 200, seed: 30 },
    )
  })
})

describe('RateLimits', () => {
  it('spend a burst, then what was refilled; a refused arrival pays nothing', () => {
    const requests = makeRequests([
      [0, 9, 9],
      [0, 9, 9],
      [0, 9, 9],
      [0, 9, 9, 1],
      [1, 9, 9],
      [2, 9, 9],
      [2, 9, 9],
    ])
    const limits = new RateLimits(
      { classes: [classRules({ rateLimit: { unit: 'requests', perSecond: 0.5, burst: 2 } }), classRules()], seed: 1 },
      requests,
    )
    expect([0, 1, 2, 3, 4, 5, 6].map((i) => limits.admits(requests, i, requests.at[i]))).toEqual([
      true,
      true,
      false,
      true,
      false,
      true,
      false,
    ])
  })

  it('of callers are one for each: a busy one is refused, and the others are not', () => {
    const classes = [classRules({ rateLimit: { unit: 'requests', perSecond: 0.001, burst: 3, callers: { count: 50, skew: 1 } } })]
    const requests = makeRequests(Array.from({ length: 2000 }, () => [0, 1, 1] as const))
    const limits = new RateLimits({ classes, seed: 7 }, requests)
    const callers = callersOf(classes, requests, 7)
    const [sent, letIn] = [new Map<number, number>(), new Map<number, number>()]
    for (let i = 0; i < requests.count; i++) {
      sent.set(callers[i], (sent.get(callers[i]) ?? 0) + 1)
      if (limits.admits(requests, i, 0)) letIn.set(callers[i], (letIn.get(callers[i]) ?? 0) + 1)
    }
    for (const [caller, n] of sent) expect(letIn.get(caller)).toBe(Math.min(3, n))
    // Shares like 1/k: the first of fifty sends 1 of 4.5.
    expect(Math.abs(sent.get(0)! / 2000 - 1 / 4.4992)).toBeLessThan(0.03)
    const alike = callersOf([classRules({ rateLimit: { unit: 'requests', perSecond: 1, burst: 1, callers: { count: 4 } } })], requests, 7)
    for (const k of [0, 1, 2, 3]) expect(Math.abs(alike.filter((c) => c === k).length / 2000 - 0.25)).toBeLessThan(0.04)
    expect(callersOf([classRules()], requests, 7).every((c) => c === 0)).toBe(true)
  })

  it('can count tokens', () => {
    const requests = makeRequests([
      [0, 60, 30],
      [1, 10, 11],
      [1, 10, 10],
      [0, 99, 2],
    ])
    const limits = new RateLimits(
      { classes: [classRules({ rateLimit: { unit: 'tokens', perSecond: 10, burst: 100 } })], seed: 1 },
      requests,
    )
    expect([0, 1, 2].map((i) => limits.admits(requests, i, requests.at[i]))).toEqual([true, false, true])
  })
})

describe('FinishLines', () => {
  it('give what finishes first, ties by request, whatever is put in, taken or evicted; each replica its own', () => {
    const acts = fc.array(fc.tuple(fc.constantFrom('push', 'push', 'push', 'pop', 'evict'), fc.nat(1), fc.nat(60)), { maxLength: 400 })
    fc.assert(
      fc.property(acts, (list) => {
        const lines = new FinishLines(2, 60)
        const plain: [number, number][][] = [[], []]
        const stamp = new Int32Array(400)
        list.forEach(([act, r, mark], i) => {
          const mine = plain[r]
          if (act === 'push' && mine.length < 60) {
            lines.push(r, mark, 399 - i)
            stamp[399 - i] = i
            mine.push([mark, 399 - i])
            mine.sort((x, y) => x[0] - y[0] || x[1] - y[1])
          } else if (act === 'pop' && mine.length > 0) {
            expect([lines.firstMark(r), lines.pop(r)]).toEqual(mine.shift())
          } else if (act === 'evict' && mine.length > 0) {
            const last = mine.reduce((best, e, k) => (stamp[e[1]] > stamp[mine[best][1]] ? k : best), 0)
            const place = lines.latest(r, stamp)
            expect([place, lines.markAt(r, place), lines.requestAt(r, place)]).toEqual([last, ...mine[last]])
            lines.removeAt(r, place)
            mine.splice(last, 1)
          }
          expect(lines.size[r]).toBe(mine.length)
        })
        for (const r of [0, 1])
          expect(Array.from({ length: lines.size[r] }, (_, i) => [lines.markAt(r, i), lines.requestAt(r, i)])).toEqual(plain[r])
      }),
      { numRuns: 200, seed: 25 },
    )
  })
})

describe('Patience', () => {
  it('runs out in order of the attempt plus the patience of the class, and skips who was started', () => {
    const since = Float64Array.of(0, 1, 2, 3, 4)
    const start = new Float64Array(5).fill(NaN)
    const patience = new Patience(
      [classRules({ patienceSeconds: 10 }), classRules({ patienceSeconds: 2 })],
      since,
      start,
      new Int32Array(since.length),
    )
    for (const [request, c] of [
      [0, 0],
      [1, 1],
      [2, 0],
      [3, 1],
      [4, 0],
    ])
      patience.push(c, request)
    start[2] = 2.5
    const order: [number, number][] = []
    while (patience.next() < Infinity) {
      const deadline = patience.next()
      order.push([deadline, patience.take(deadline)])
    }
    expect(order).toEqual([
      [3, 1],
      [5, 3],
      [10, 0],
      [14, 4],
    ])
  })

  it('never runs out for a class without', () => {
    const patience = new Patience([classRules()], new Float64Array(1), Float64Array.of(NaN), new Int32Array(1))
    patience.push(0, 0)
    expect(patience.next()).toBe(Infinity)
    expect(patience.matters).toBe(false)
  })
})

describe('Router', () => {
  const open = (routing: 'round-robin' | 'two-choice', ready: number[]) => {
    const busy = new LeastBusy(6)
    const router = routerOf(routing, busy, 7)
    for (const r of ready) {
      busy.open(r)
      router.open(r)
    }
    return { busy, router }
  }

  it('round-robin goes over the ready replicas in turn, and takes in whoever becomes ready', () => {
    const { router } = open('round-robin', [4, 1])
    expect([0, 1, 2].map((i) => router.choose(i, 0))).toEqual([1, 4, 1])
    router.open(2)
    expect([0, 1, 2].map((i) => router.choose(i, 0))).toEqual([2, 4, 1])
    expect(open('round-robin', []).router.choose(0, 0)).toBe(-1)
  })

  it('two-choice takes the less busy of two different ones, each pair equally often', () => {
    const { busy, router } = open('two-choice', [0, 1, 2, 3])
    busy.add(2, 5)
    const seen = new Array<number>(4).fill(0)
    for (let i = 0; i < 24_000; i++) seen[router.choose(i, 0)]++
    // Ties go to the lower number: 0 wins 3 of 6 pairs, 1 wins 2, 3 wins the pair with 2, the busy one none.
    expect(seen.map((n) => Math.round(n / 400))).toEqual([30, 20, 0, 10])
    expect(router.choose(5, 0)).toBe(router.choose(5, 0))
    expect(open('two-choice', [3]).router.choose(0, 0)).toBe(3)
    expect(open('two-choice', []).router.choose(0, 0)).toBe(-1)
  })
})

describe('MissWatch', () => {
  const watch = () =>
    new MissWatch(
      [
        { classIndex: 0, measure: 'ttft', seconds: 1, pieceSeconds: Infinity, allowedMisses: [1] },
        { classIndex: 1, measure: 'tpot', seconds: 0.1, pieceSeconds: Infinity, allowedMisses: [0] },
      ],
      2,
      100,
    )

  it('tells a promise broken with the first miss too many', () => {
    const w = watch()
    w.finished(0, 200, 200, 201.5, 210, 5)
    expect(w.broken).toBe(-1)
    w.lost(0, 205)
    expect(w.broken).toBe(0)
    expect(w.misses.map((m) => [...m])).toEqual([[2], [0]])
  })

  it('does not count the warm-up, and answers of one token have no time per further token', () => {
    const w = watch()
    w.finished(0, 50, 90, 95, 99, 5)
    w.lost(0, 99.9)
    w.finished(1, 200, 200, 201, 201, 1)
    expect(w.misses.map((m) => [...m])).toEqual([[0], [0]])
    w.finished(1, 200, 200, 201, 202, 6)
    expect(w.broken).toBe(1)
  })

  it('judges pieces of the horizon by themselves', () => {
    const w = new MissWatch([{ classIndex: 0, measure: 'latency', seconds: 1, pieceSeconds: 3600, allowedMisses: [1, Infinity, 1] }], 1, 0)
    w.lost(0, 10)
    w.lost(0, 3700)
    w.lost(0, 3800)
    w.lost(0, 7300)
    expect(w.broken).toBe(-1)
    w.finished(0, 7400, 7400, 7402, 7402, 1)
    expect([w.broken, w.brokenPiece]).toEqual([0, 2])
  })
})

describe('memory for one run after the other', () => {
  it('is as new for each, whatever the ones before wrote of as many requests as they said, and however many they had', () => {
    const memory = new RunMemory()
    const names = ['start', 'firstToken', 'end', 'outcome', 'rejectCause', 'replica'] as const
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.integer({ min: 0, max: 60 }), fc.double({ min: 0, max: 1, noNaN: true })), { minLength: 1, maxLength: 12 }),
        (runs) => {
          for (const [count, share] of runs) {
            const columns = memory.take(count)
            const fresh = freshColumns(count)
            for (const name of names) expect([...columns[name]]).toEqual([...fresh[name]])
            const written = Math.floor(share * count)
            for (const name of names) columns[name].fill(7, 0, written)
            memory.wroteOf(written)
          }
        },
      ),
    )
  })
})
