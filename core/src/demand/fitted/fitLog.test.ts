import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { checkPlan } from '../../plan/read.ts'
import type { Arrivals, Bursts, RequestClass } from '../../plan/schema.ts'
import { skerrySound } from '../../../../examples/make/skerrySound.ts'
import { generateRequests } from '../generate.ts'
import type { RequestLog } from '../log/requestLog.ts'
import { expectedCount, rateCurve } from '../rate.ts'
import { fitLog } from './fitLog.ts'
import { drawnLike, effective, likenessPerHour } from './likeness.ts'
import { splitSize } from './splitBySize.ts'

const DAY = 86_400
const START = '2027-03-01T00:00:00Z'
const [desk] = skerrySound.classes
const { turns: _, lengthCorrelation: __, ...plainDesk } = desk

/** A log that was drawn from a plan: what it is like is known. */
function logOf(classes: readonly Partial<RequestClass>[], seconds: number, seed = 1): RequestLog {
  const plan = checkPlan({
    ...skerrySound,
    horizon: { start: START, seconds, warmupSeconds: 0 },
    services: skerrySound.services.filter((s) => s.name === desk.service),
    classes: classes.map((c, i) => ({ ...plainDesk, name: `class ${i}`, ...c })),
  })
  return {
    name: 'drawn',
    requests: generateRequests(plan, { seed }),
    files: [],
    classNames: plan.classes.map((c) => c.name),
    startSeconds: Date.parse(START) / 1000,
    isCalendar: true,
    columns: { names: { arrival: 'a', input: 'i', output: 'o', class: 'c' }, time: 'calendar', duration: 'seconds' },
    badRows: [],
    badRowCount: 0,
  }
}

const steady = (ratePerSecond: number, bursts?: Bursts): Arrivals => ({ kind: 'steady', ratePerSecond, ...(bursts && { bursts }) })
const OFFICE: Arrivals = {
  kind: 'weekly',
  ratePerSecond: 0.4,
  days: [1, 0.9, 0.8, 0.9, 0.7, 0.2, 0.1],
  hours: Array.from({ length: 24 }, (_, h) => (h >= 8 && h < 18 ? 1 - Math.abs(h - 13) * 0.1 : 0.05)),
}

describe('fitLog', () => {
  it('takes pure chance for nothing else: in 20 logs of a steady rate no hours, growth, bursts or correlation', () => {
    const found = Array.from({ length: 20 }, (_, s) => fitLog(logOf([{ arrivals: steady(0.02) }], 21 * DAY, s + 1)).classes[0].clear)
    // Growth is told by an interval of 95 %, which one in twenty misses.
    expect(found.flat().filter((a) => a !== 'growth')).toEqual([])
    expect(found.filter((f) => f.includes('growth')).length).toBeLessThanOrEqual(3)
  })

  it('finds hours and days, to what their counts leave open', () => {
    const [fit] = fitLog(logOf([{ arrivals: OFFICE }], 28 * DAY)).classes
    expect(fit.clear).toContain('week')
    expect(fit.week?.explained).toBeGreaterThan(0.9)
    expect(fit.week?.dispersion).toBeCloseTo(1, 0)
    expect(fit.week?.ratePerSecond).toBeCloseTo(0.4, 1)
    fit.week?.days.forEach((d, i) => expect(Math.abs(d - OFFICE.days[i])).toBeLessThan(0.05))
    fit.week?.hours.forEach((h, i) => expect(Math.abs(h - OFFICE.hours[i])).toBeLessThan(0.06))
  })

  it('takes each hour of the week as it was where days and hours do not explain it, whenever the log begins', () => {
    const rates = Array.from({ length: 168 }, (_, i) => 0.05 + (i % 25 === 7 ? 0.8 : 0) + (i === 100 ? 2 : 0))
    const log = logOf([{ arrivals: { kind: 'hourly', ratesPerSecond: rates } }], 7 * DAY)
    const [fit] = fitLog(log).classes
    expect(fit.clear).toContain('hours')
    const { arrivals } = drawnLike(fit, new Set(fit.clear))
    if (arrivals.kind !== 'hourly') throw new Error('not by the hour')
    arrivals.ratesPerSecond.forEach((r, i) => expect(Math.abs(r - rates[i])).toBeLessThan(0.02 + 4 * Math.sqrt(rates[i] / 3600)))
    // Its likeness by the hour is what came, and without the hours of the week it is not.
    const off = (taken: Parameters<typeof likenessPerHour>[1]) =>
      likenessPerHour(fit, taken).reduce((sum, r, i) => sum + Math.abs(r - fit.perHour[i]), 0) / fit.perHour.reduce((a, b) => a + b, 0)
    expect(off(effective(fit.clear))).toBeLessThan(0.001)
    expect(off(new Set())).toBeGreaterThan(0.3)
    // Also of a log that begins a little after the hour, whose hours are cut where no number is exact.
    const odd = fitLog({ ...log, startSeconds: log.startSeconds + 1.486 }).classes[0]
    const shared = likenessPerHour(odd, effective(odd.clear)).map((r, i) => Math.abs(r - odd.perHour[i]))
    expect(Math.max(...shared.slice(1, 167))).toBeLessThan(1e-3)
    // The same requests, said to have come half a week and half an hour later.
    const late = fitLog({ ...log, startSeconds: log.startSeconds + 3.5 * DAY + 1800 }).classes[0]
    expect(late.bursts.dispersion.map((d) => d.index)).not.toContain(NaN)
    expect(late.weekHours?.[(100 + 84) % 168]).toBeGreaterThan(0.9)
  })

  it('says which days a short log has nothing of, and takes them as the middle of the others', () => {
    const { week } = fitLog(logOf([{ arrivals: OFFICE }], 3 * DAY)).classes[0]
    expect(week?.unseenDays).toEqual([3, 4, 5, 6])
    expect(new Set(week?.days.slice(3)).size).toBe(1)
  })

  it('finds growth, beside hours and days, and begins where the log ends', () => {
    const [fit] = fitLog(logOf([{ arrivals: { ...OFFICE, growthPerMonth: 0.25 } }], 60 * DAY)).classes
    expect(fit.clear).toContain('growth')
    expect(fit.growth?.low).toBeLessThan(0.25)
    expect(fit.growth?.high).toBeGreaterThan(0.25)
    const { arrivals } = drawnLike(fit, new Set(fit.clear))
    const next = { ...OFFICE, ratePerSecond: 0.4 * 1.25 ** (60 / (730 / 24)), growthPerMonth: 0.25 }
    const inWeek = (a: Arrivals) => expectedCount(rateCurve(a as typeof OFFICE, 7 * DAY, 1, START))
    expect(inWeek(arrivals) / inWeek(next)).toBeCloseTo(1, 1)
  })

  it.each([0.3, 2, 4])('finds gaps of variation %d', (variation) => {
    const [fit] = fitLog(logOf([{ arrivals: steady(0.2, { kind: 'gamma', variation }) }], 14 * DAY)).classes
    expect(fit.bursts.bursts?.kind).toBe('gamma')
    expect(fit.bursts.variation / variation).toBeGreaterThan(0.9)
    expect(fit.bursts.variation / variation).toBeLessThan(1.1)
  })

  it('finds bursts that last: a load that is drawn from them is as uneven over every scale', () => {
    const bursts: Bursts = { kind: 'two-state', factor: 4, burstSeconds: 120, quietSeconds: 480 }
    const before = fitLog(logOf([{ arrivals: steady(1, bursts) }], 7 * DAY)).classes[0]
    expect(before.bursts.bursts?.kind).toBe('two-state')
    const after = fitLog(logOf([drawnLike(before, new Set(before.clear))], 7 * DAY, 9)).classes[0]
    before.bursts.dispersion.forEach(({ index }, i) => expect(after.bursts.dispersion[i].index / index).toBeGreaterThan(0.75))
    before.bursts.dispersion.forEach(({ index }, i) => expect(after.bursts.dispersion[i].index / index).toBeLessThan(1.33))
  })

  it('says nothing that a plan can not say, however wildly a load comes', () => {
    fc.assert(
      fc.property(
        fc.record({
          share: fc.double({ min: 0.002, max: 0.6, noNaN: true }),
          burstSeconds: fc.double({ min: 1, max: 900, noNaN: true }),
          seed: fc.integer({ min: 1, max: 999 }),
        }),
        ({ share, burstSeconds, seed }) => {
          const quietSeconds = (burstSeconds * (1 - share)) / share
          // Nothing comes between bursts, or nearly.
          const bursts: Bursts = { kind: 'two-state', factor: Math.min(1000, 0.999 / share), burstSeconds, quietSeconds }
          const log = logOf([{ arrivals: steady(0.2, bursts) }], DAY, seed)
          fc.pre(log.requests.count > 5)
          const [fit] = fitLog(log).classes
          const service = skerrySound.services.filter((s) => s.name === desk.service)
          const drawn = { ...plainDesk, ...drawnLike(fit, effective(fit.clear)) }
          expect(() => checkPlan({ ...skerrySound, services: service, classes: [drawn] })).not.toThrow()
        },
      ),
      { numRuns: 60, seed: 2 },
    )
  })

  it('finds sizes, and how they go together', () => {
    fc.assert(
      fc.property(
        fc.record({
          median: fc.integer({ min: 50, max: 3000 }),
          wide: fc.double({ min: 1.5, max: 6, noNaN: true }),
          r: fc.double({ min: -0.8, max: 0.8, noNaN: true }),
        }),
        ({ median, wide, r }) => {
          const input = { kind: 'lognormal', median, p95: median * wide, max: Math.ceil(median * wide * wide) } as const
          const [fit] = fitLog(logOf([{ arrivals: steady(0.1), input, lengthCorrelation: r }], 2 * DAY)).classes
          if (fit.input.size.kind !== 'lognormal') throw new Error('not found to be lognormal')
          expect(fit.input.size.median / median).toBeCloseTo(1, 0)
          expect(fit.input.size.p95 / input.p95).toBeCloseTo(1, 0)
          expect(fit.input.distance).toBeLessThan(0.03)
          expect(Math.abs(fit.correlation - r)).toBeLessThan(0.05)
        },
      ),
      { numRuns: 20, seed: 3 },
    )
  })

  it('keeps sizes of no such shape as quantiles', () => {
    const values = [10, 10, 10, 900, 950]
    const { size, distance } = fitLog(logOf([{ arrivals: steady(0.1), input: { kind: 'empirical', values } }], DAY)).classes[0].input
    if (size.kind !== 'empirical') throw new Error('not kept as quantiles')
    expect(size.values.filter((v) => v === 10).length / size.values.length).toBeCloseTo(0.6, 1)
    expect(distance).toBeLessThan(0.01)
  })

  it('parts short requests from long ones where no class is named, and never one kind in two', () => {
    const both = logOf(
      [
        { arrivals: steady(0.05), input: { kind: 'lognormal', median: 80, p95: 200 } },
        { arrivals: steady(0.02), input: { kind: 'lognormal', median: 6000, p95: 12_000 } },
      ],
      2 * DAY,
    )
    const fit = fitLog({ ...both, classNames: [''], requests: { ...both.requests, classIndex: new Uint8Array(both.requests.count) } })
    expect(fit.splitAt).toBeGreaterThan(200)
    expect(fit.splitAt).toBeLessThan(4000)
    expect(fit.classes.map((c) => c.name)).toEqual(['short', 'long'])
    expect(fit.classes[0].count / both.requests.count).toBeCloseTo(5 / 7, 1)
    fc.assert(
      fc.property(
        fc.integer({ min: 20, max: 3000 }),
        fc.double({ min: 1.2, max: 20, noNaN: true }),
        fc.integer({ min: 1, max: 99 }),
        (median, wide, seed) => {
          const { requests } = logOf([{ arrivals: steady(0.05), input: { kind: 'lognormal', median, p95: median * wide } }], DAY, seed)
          expect(splitSize(requests.input)).toBeUndefined()
        },
      ),
      { numRuns: 30, seed: 8 },
    )
  })

  it('finds conversations where the log says who asked', () => {
    const log = logOf([{ arrivals: steady(0.02), turns: { count: { kind: 'fixed', value: 4 }, pauseSeconds: 60 } }], 4 * DAY)
    const callers = new Int32Array(log.requests.count + 1)
    const next = log.requests.chain?.next ?? new Int32Array()
    let last = 0
    for (let i = 0; i < log.requests.count; i++) {
      const id = log.requests.id[i]
      callers[id] ||= ++last
      if (next[i] >= 0) callers[log.requests.id[next[i]]] = callers[id]
    }
    const [fit] = fitLog({ ...log, callers }).classes
    expect(fit.clear).toContain('sessions')
    expect(fit.sessions?.meanTurns).toBeCloseTo(4, 1)
    expect((fit.sessions?.pauseSeconds ?? 0) / 60).toBeCloseTo(1, 1)
    expect(fit.bursts.bursts).toBeUndefined()
    const { arrivals, turns } = drawnLike(fit, new Set(fit.clear))
    expect(arrivals.kind === 'steady' && arrivals.ratePerSecond / 0.02).toBeCloseTo(1, 1)
    // The last of them are cut off by the end of the log.
    const counts = turns?.count.kind === 'empirical' ? turns.count.values : []
    expect(counts.filter((n) => n === 4).length / counts.length).toBeGreaterThan(0.95)
    // Refused, every request comes on its own.
    expect(drawnLike(fit, new Set()).turns).toBeUndefined()
  })

  it('draws a load that is scaled, shifted and grown', () => {
    const [fit] = fitLog(logOf([{ arrivals: OFFICE }], 14 * DAY)).classes
    const of = (change: Parameters<typeof drawnLike>[2]) => {
      const { arrivals } = drawnLike(fit, new Set(['week']), change)
      if (arrivals.kind !== 'weekly') throw new Error('not by hours')
      return arrivals
    }
    expect(of({ scale: 3 }).ratePerSecond / of({}).ratePerSecond).toBeCloseTo(3, 2)
    expect(of({ shiftHours: 2 }).hours[15]).toBe(of({}).hours[13])
    expect(of({ shiftHours: -3 }).hours[23]).toBe(of({}).hours[2])
    expect(of({ growthPerMonth: 0.1 }).growthPerMonth).toBe(0.1)
  })
})
