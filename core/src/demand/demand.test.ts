import { strToU8 } from 'fflate'
import { describe, expect, it } from 'vitest'
import { skerrySound } from '../../../examples/make/skerrySound.ts'
import { RandomStream } from '../random/stream.ts'
import { poissonArrivals } from './arrivals.ts'
import { checkPlan } from '../plan/read.ts'
import { generateRequests, needsLog } from './generate.ts'
import { matchLog } from './log/matchLog.ts'
import { readRequestLog } from './log/readLog.ts'
import { membersOf } from './requests.ts'
import { expectedCount, peak, rateCurve } from './rate.ts'
import { drawSizes, lognormalSigma } from './sizes.ts'

describe('rateCurve', () => {
  const hourly = { kind: 'hourly' as const, ratesPerSecond: [1, 3], spikes: [{ startSeconds: 1800, durationSeconds: 3600, factor: 2 }] }

  it('lays spikes over the hours and starts over when the list ends', () => {
    const curve = rateCurve(hourly, 3 * 3600)
    expect([...curve.from]).toEqual([0, 1800, 3600, 5400, 7200])
    expect([...curve.rates]).toEqual([1, 2, 6, 3, 1])
    expect(expectedCount(curve)).toBe(1800 * (1 + 2 + 6 + 3 + 2))
    expect(peak(curve)).toEqual({ ratePerSecond: 6, atSeconds: 3600 })
  })
})

describe('poissonArrivals', () => {
  it('has Poisson counts in every piece of the curve: mean and variance over 400 seeds', () => {
    const curve = rateCurve({ kind: 'hourly', ratesPerSecond: [0.01, 0, 0.04] }, 3 * 3600)
    const counts = Array.from({ length: 400 }, (_, seed) => {
      const at = poissonArrivals(curve, new RandomStream(seed, 'counts'))
      return [0, 1, 2].map((h) => at.filter((t) => t >= h * 3600 && t < (h + 1) * 3600).length)
    })
    const moments = (h: number) => {
      const mean = counts.reduce((a, c) => a + c[h], 0) / 400
      return { mean, variance: counts.reduce((a, c) => a + (c[h] - mean) ** 2, 0) / 399 }
    }
    expect(Math.abs(moments(0).mean - 36)).toBeLessThan(3 * Math.sqrt(36 / 400))
    expect(moments(1).mean).toBe(0)
    expect(Math.abs(moments(2).mean - 144)).toBeLessThan(3 * Math.sqrt(144 / 400))
    expect(moments(2).variance / 144).toBeGreaterThan(0.78)
    expect(moments(2).variance / 144).toBeLessThan(1.22)
  })

  it('of a rate of zero is empty', () => {
    expect(poissonArrivals(rateCurve({ kind: 'steady', ratePerSecond: 0 }, 1000), new RandomStream(1, 'x'))).toHaveLength(0)
  })
})

describe('drawSizes', () => {
  const sorted = (size: Parameters<typeof drawSizes>[0]) => drawSizes(size, 100_000, new RandomStream(4, 'sizes')).sort()

  it('lognormal has the stated median and 95th percentile, and is cut at the maximum', () => {
    const values = sorted({ kind: 'lognormal', median: 500, p95: 1700, max: 4000 })
    expect(values[50_000] / 500).toBeCloseTo(1, 1)
    expect(values[95_000] / 1700).toBeCloseTo(1, 1)
    expect(values[99_999]).toBe(4000)
    expect(lognormalSigma({ median: 1, p95: Math.exp(1.6448536269514722) })).toBeCloseTo(1, 12)
  })

  it('empirical draws each value equally often; exponential has its mean; fixed is fixed; none is below 1', () => {
    const values = sorted({ kind: 'empirical', values: [3, 3, 9, 12] })
    expect(values.filter((v) => v === 3).length / 100_000).toBeCloseTo(0.5, 2)
    expect(sorted({ kind: 'exponential', mean: 1000 }).reduce((a, b) => a + b, 0) / 1e8).toBeCloseTo(1, 2)
    expect(new Set(sorted({ kind: 'fixed', value: 7 }))).toEqual(new Set([7]))
    expect(sorted({ kind: 'lognormal', median: 1, p95: 3 })[0]).toBe(1)
  })
})

describe('sizes from a log under arrivals of another kind', async () => {
  const rows = Array.from({ length: 50 }, (_, i) => `${i},pilot desk,${100 + i},${i % 2 === 0 ? 7 : 9}`)
  const log = await readRequestLog([
    { name: 'log.csv', bytes: strToU8(['arrival,class,input,output', ...rows, '60,hull watch,5,1'].join('\n')) },
  ])
  const [pilots, , hulls] = skerrySound.classes
  const plan = checkPlan({
    ...skerrySound,
    log: 'log.csv',
    services: skerrySound.services.filter((s) => s.name === pilots.service || s.name === hulls.service),
    classes: [{ ...pilots, arrivals: { kind: 'steady', ratePerSecond: 1 }, input: { kind: 'log' }, output: { kind: 'log' } }, hulls],
    horizon: { ...skerrySound.horizon, seconds: 20_000 },
  })

  it('are drawn from the rows of the class, each equally often', () => {
    expect(needsLog(plan)).toBe(true)
    const requests = generateRequests(plan, { seed: 1, log: matchLog(plan, log).log })
    const mine = membersOf(requests, 0)
    expect(mine.length / 20_000).toBeCloseTo(1, 1)
    const inputs = Array.from(mine, (i) => requests.input[i])
    expect(new Set(inputs).size).toBe(50)
    expect(Math.min(...inputs)).toBe(100)
    expect(Math.max(...inputs)).toBe(149)
    expect(inputs.reduce((a, b) => a + b, 0) / inputs.length / 124.5).toBeCloseTo(1, 2)
    expect(Array.from(mine, (i) => requests.output[i]).filter((o) => o === 7).length / mine.length).toBeCloseTo(0.5, 1)
  })

  it('need rows of the class', async () => {
    const other = await readRequestLog([{ name: 'other.csv', bytes: strToU8('arrival,class,input\n1,hull watch,2\n') }])
    expect(() => generateRequests(plan, { seed: 1, log: matchLog(plan, other).log })).toThrow(
      'classes[0].input is "log": it wants a log with rows of class "pilot desk", and other.csv has none.',
    )
  })

  it('need the log', () => {
    expect(() => generateRequests(plan, { seed: 1 })).toThrow('takes its sizes from a log, and no log is there')
  })
})

describe('generateRequests', () => {
  it('is in order of arrival and leaves other classes as they were when one changes', () => {
    const plan = { ...skerrySound, horizon: { ...skerrySound.horizon, seconds: 6 * 3600 } }
    const before = generateRequests(plan, { seed: 1 })
    const classes = plan.classes.map((c, i) => (i === 0 ? { ...c, arrivals: { kind: 'steady' as const, ratePerSecond: 3 } } : c))
    const after = generateRequests({ ...plan, classes }, { seed: 1 })
    const of = (r: typeof before, c: number) => [...r.at].filter((_, i) => r.classIndex[i] === c)
    for (let i = 1; i < before.count; i++) if (before.at[i] < before.at[i - 1]) throw new Error('out of order')
    expect(of(after, 2)).toEqual(of(before, 2))
    expect(of(after, 0)).not.toEqual(of(before, 0))
    expect(of(generateRequests(plan, { seed: 2 }), 2)).not.toEqual(of(before, 2))
  })
})
