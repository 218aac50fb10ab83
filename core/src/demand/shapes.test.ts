import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { smallPlan } from '../../test/smallPlan.ts'
import { checkPlan } from '../plan/read.ts'
import type { Plan, RequestClass } from '../plan/schema.ts'
import { RandomStream } from '../random/stream.ts'
import { arrivalsAlong } from './arrivals.ts'
import { gamma, gapsOf, modulated } from './bursts.ts'
import { weekPlace } from './calendar.ts'
import { generateRequests } from './generate.ts'
import { expectedCount, rateCurve } from './rate.ts'
import { follows } from './requests.ts'
import { drawPairs } from './sizes.ts'

const HOUR = 3600
const mean = (values: readonly number[]) => values.reduce((a, b) => a + b, 0) / values.length
const deviation = (values: readonly number[]) => {
  const middle = mean(values)
  return Math.sqrt(mean(values.map((v) => (v - middle) ** 2)))
}

function planWith(parts: Partial<RequestClass>, seconds = 2000): Plan {
  const plan = smallPlan(new RandomStream(3, 'shapes'), 1)
  const [first] = plan.classes
  return {
    ...plan,
    horizon: { ...plan.horizon, seconds },
    classes: [{ ...first, input: { kind: 'fixed', value: 100 }, output: { kind: 'fixed', value: 20 }, ...parts }],
  }
}

describe('rates by the calendar', () => {
  it('a week follows the clock of the start, offset and all', () => {
    const days = [1, 0, 0, 0, 0, 0.5, 0]
    const hours = Array.from({ length: 24 }, (_, h) => (h === 9 ? 2 : h === 10 ? 1 : 0))
    // A Saturday, 8:30 by its own clock.
    const curve = rateCurve({ kind: 'weekly', ratePerSecond: 4, days, hours }, 3 * 86_400, 1, '2027-03-06T08:30:00+02:00')
    expect(expectedCount(curve)).toBeCloseTo((4 + 2) * HOUR + (8 + 4) * HOUR, 6)
    expect(curve.from[curve.rates.findIndex((r) => r > 0)]).toBe(1800)
    expect(weekPlace('2027-03-01T00:30:00-05:00').secondOfWeek).toBe(1800)
  })

  it('growth compounds by month, events multiply while they last', () => {
    const steady = { kind: 'steady' as const, ratePerSecond: 10 }
    const grown = rateCurve({ ...steady, growthPerMonth: 0.21 }, 730 * HOUR)
    expect(grown.rates[grown.rates.length - 1]).toBeCloseTo(12.1, 2)
    expect(expectedCount(grown)).toBeCloseTo((10 * 730 * HOUR * 0.21) / Math.log(1.21), -2)
    const event = rateCurve(
      {
        ...steady,
        events: [{ from: '2027-03-01T02:00:00+01:00', until: '2027-03-01T03:00:00+01:00', factor: 3 }],
        spikes: [{ startSeconds: HOUR, durationSeconds: 1800, factor: 2 }],
      },
      4 * HOUR,
      1,
      '2027-03-01T00:00:00Z',
    )
    expect([...event.rates]).toEqual([10, 60, 30, 10])
  })
})

describe('bursts', () => {
  it.each([0.4, 1, 2.5])('gamma gaps have mean 1 and the variation %d', (variation) => {
    const gap = gapsOf({ kind: 'gamma', variation }, new RandomStream(5, `gaps ${variation}`))
    const values = Array.from({ length: 60_000 }, gap)
    expect(Math.abs(mean(values) - 1)).toBeLessThan((4 * variation) / Math.sqrt(values.length))
    expect(deviation(values) / variation).toBeGreaterThan(0.96)
    expect(deviation(values) / variation).toBeLessThan(1.04)
  })

  it('gamma variates of shape 3.5 have its mean and variance', () => {
    const random = new RandomStream(9, 'gamma')
    const values = Array.from({ length: 40_000 }, () => gamma(3.5, random))
    expect(mean(values)).toBeCloseTo(3.5, 1)
    expect(deviation(values) ** 2).toBeCloseTo(3.5, 0)
  })

  it('two states keep the mean rate and leave the count over-dispersed', () => {
    const curve = rateCurve({ kind: 'steady', ratePerSecond: 5 }, 100_000)
    const bursts = { kind: 'two-state' as const, factor: 4, burstSeconds: 20, quietSeconds: 180 }
    const drawn = modulated(curve, bursts, new RandomStream(4, 'bursts'))
    expect(new Set([...drawn.rates].map((r) => Number(r.toFixed(9)))).size).toBe(2)
    expect(Math.max(...drawn.rates)).toBe(20)
    expect(expectedCount(drawn) / 500_000).toBeGreaterThan(0.94)
    expect(expectedCount(drawn) / 500_000).toBeLessThan(1.06)
    const at = arrivalsAlong(drawn, gapsOf(bursts, new RandomStream(4, 'arrivals')))
    const perMinute = new Array<number>(1666).fill(0)
    for (const t of at) if (t < 1666 * 60) perMinute[Math.floor(t / 60)]++
    expect(deviation(perMinute) ** 2 / mean(perMinute)).toBeGreaterThan(10)
  })

  it('lie over a shape without changing where it begins and ends', () => {
    fc.assert(
      fc.property(fc.nat(1e6), fc.double({ min: 1.1, max: 9, noNaN: true }), (seed, factor) => {
        const curve = rateCurve({ kind: 'hourly', ratesPerSecond: [1, 0, 3] }, 6 * HOUR)
        const drawn = modulated(curve, { kind: 'two-state', factor, burstSeconds: 100, quietSeconds: 900 }, new RandomStream(seed, 'b'))
        expect(drawn.from[0]).toBe(0)
        drawn.from.forEach((t, i) => {
          if (i > 0 && t <= drawn.from[i - 1]) throw new Error('pieces must ascend')
          const base = [1, 0, 3][Math.floor(t / HOUR) % 3]
          if (Math.abs(drawn.rates[i] - base * factor) > 1e-9 && Math.abs(drawn.rates[i] - (base * (1 - factor * 0.1)) / 0.9) > 1e-9)
            throw new Error(`rate ${drawn.rates[i]} at ${t}`)
        })
      }),
      { numRuns: 60, seed: 71 },
    )
  })
})

describe('lengths', () => {
  it('that depend on each other keep their own distributions and have the correlation asked for', () => {
    const input = { kind: 'lognormal' as const, median: 600, p95: 2400 }
    const [a, b] = drawPairs(
      input,
      { kind: 'lognormal', median: 180, p95: 600 },
      0.7,
      50_000,
      new RandomStream(1, 'a'),
      new RandomStream(1, 'b'),
    )
    const logs = (v: Int32Array) => [...v].map(Math.log)
    const x = logs(a)
    const y = logs(b)
    const [middleX, middleY] = [mean(x), mean(y)]
    const correlation = mean(x.map((v, i) => (v - middleX) * (y[i] - middleY))) / deviation(x) / deviation(y)
    expect(correlation).toBeCloseTo(0.7, 1)
    const sorted = b.slice().sort()
    expect(sorted[25_000] / 180).toBeCloseTo(1, 1)
    expect(sorted[47_500] / 600).toBeCloseTo(1, 1)
  })

  it('of other kinds follow as well: negative dependence turns the order round', () => {
    const [a, b] = drawPairs(
      { kind: 'exponential', mean: 500 },
      { kind: 'empirical', values: [30, 10, 20] },
      -0.95,
      20_000,
      new RandomStream(2, 'a'),
      new RandomStream(2, 'b'),
    )
    const short = [...b].filter((_, i) => a[i] < 100)
    const long = [...b].filter((_, i) => a[i] > 1500)
    expect(mean(short)).toBeGreaterThan(28)
    expect(mean(long)).toBeLessThan(12)
    expect(mean([...b])).toBeCloseTo(20, 0)
    expect(mean([...a]) / 500).toBeCloseTo(1, 1)
  })

  it('above the output cap are cut off and marked', () => {
    const plan = planWith({ output: { kind: 'empirical', values: [10, 50, 90] } })
    plan.services[0].limits = { ...plan.services[0].limits, outputCap: 50 }
    const { output, cutOff } = generateRequests(plan, { seed: 1 })
    expect(new Set(output)).toEqual(new Set([10, 50]))
    const share = mean([...(cutOff ?? [])])
    expect(share).toBeGreaterThan(0.25)
    expect(share).toBeLessThan(0.42)
  })

  it('above what the model ever writes as well, whichever is less', () => {
    const plan = planWith({ output: { kind: 'empirical', values: [10, 50, 90] } })
    const model = plan.models.find((m) => m.name === plan.services[0].model)
    if (model?.kind !== 'dense') throw new Error('expected a dense model')
    model.outputCap = 30
    plan.services[0].limits = { ...plan.services[0].limits, outputCap: 50 }
    expect(new Set(generateRequests(plan, { seed: 1 }).output)).toEqual(new Set([10, 30]))
  })
})

describe('requests that follow others', () => {
  it('a closed loop has its clients times requests, each client one after the other', () => {
    const plan = planWith({
      arrivals: { kind: 'closed-loop', clients: 7, requestsPerClient: 5, thinkSeconds: 3, startSeconds: 10, rampSeconds: 14 },
    })
    const requests = generateRequests(plan, { seed: 1 })
    expect(requests.count).toBe(35)
    const first = Array.from({ length: 35 }, (_, i) => i).filter((i) => !follows(requests, i))
    expect(first.map((i) => requests.at[i])).toEqual([10, 12, 14, 16, 18, 20, 22])
    for (const i of first) {
      let length = 1
      for (let j = i; requests.chain && requests.chain.next[j] >= 0; j = requests.chain.next[j]) {
        expect(requests.chain.next[j]).toBeGreaterThan(j)
        expect(requests.chain.pause[requests.chain.next[j]]).toBe(3)
        length++
      }
      expect(length).toBe(5)
    }
    expect(generateRequests(plan, { seed: 1, loadFactor: 2 }).count).toBe(70)
  })

  it('conversations carry their history up to its limit', () => {
    const plan = planWith({
      turns: { count: { kind: 'fixed', value: 5 }, pauseSeconds: 1, historyTokens: 400 },
      arrivals: { kind: 'steady', ratePerSecond: 0.5 },
    })
    const { chain, input, count } = generateRequests(plan, { seed: 1 })
    if (!chain) throw new Error('conversations are chains')
    const starts = Array.from({ length: count }, (_, i) => i).filter((i) => Number.isNaN(chain.pause[i]))
    const whole = starts.map((i) => {
      const sizes = []
      for (let j = i; j >= 0; j = chain.next[j]) sizes.push(input[j])
      return sizes
    })
    expect(whole.length).toBeGreaterThan(800)
    expect(whole[0]).toEqual([100, 220, 340, 400, 400])
    expect(mean(whole.map((w) => w.length))).toBeGreaterThan(4.9)
  })

  it('a request that could only come after the end is not there', () => {
    const plan = planWith({ arrivals: { kind: 'closed-loop', clients: 2, requestsPerClient: 100, thinkSeconds: 30 } }, 300)
    expect(generateRequests(plan, { seed: 1 }).count).toBe(20)
  })
})

describe('what a plan may not ask for', () => {
  it.each([
    [
      {
        turns: { count: { kind: 'fixed' as const, value: 2 }, pauseSeconds: 1 },
        arrivals: { kind: 'closed-loop' as const, clients: 1, requestsPerClient: 1, thinkSeconds: 0 },
      },
      'classes[0].turns: must be left out: arrivals of kind "closed-loop" say themselves who follows whom',
    ],
    [
      { arrivals: { kind: 'closed-loop' as const, clients: 1e6, requestsPerClient: 1e6, thinkSeconds: 0 } },
      'classes[0].arrivals.requestsPerClient is 1000000: it must be fewer: clients × requests may be 40000000 at most',
    ],
    [{ items: { kind: 'fixed' as const, value: 2 } }, 'classes[0].items: must be left out: only fixed work has items'],
    [
      {
        arrivals: {
          kind: 'steady' as const,
          ratePerSecond: 1,
          bursts: { kind: 'two-state' as const, factor: 9, burstSeconds: 10, quietSeconds: 10 },
        },
      },
      'bursts.factor is 9: it must be at most (burstSeconds + quietSeconds) / burstSeconds',
    ],
  ])('%j', (parts, sentence) => {
    let said = ''
    try {
      checkPlan(planWith(parts))
    } catch (error) {
      said = (error as Error).message
    }
    expect(said).toContain(sentence)
  })
})
