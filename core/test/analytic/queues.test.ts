import { describe, expect, it } from 'vitest'
import { poissonArrivals } from '../../src/demand/arrivals.ts'
import { rateCurve } from '../../src/demand/rate.ts'
import { emptyRequests, type Requests } from '../../src/demand/requests.ts'
import { drawSizes } from '../../src/demand/sizes.ts'
import { simulate } from '../../src/engine/simulate.ts'
import type { ServiceRules } from '../../src/engine/rules.ts'
import { finishedValues, type Measure } from '../../src/measure/measures.ts'
import { mean, percentile } from '../../src/measure/percentile.ts'
import type { DrawnSize } from '../../src/demand/sizes.ts'
import { RandomStream } from '../../src/random/stream.ts'
import { table } from '../../src/service/given.ts'
import { batchProfile, rules, tokenProfile } from '../makeProfiles.ts'

const SEEDS = 60
const HORIZON_SECONDS = 60_000
const WARMUP_SECONDS = 2_000
/** Two-sided 99 % point of Student's t for 59 degrees of freedom. */
const T99 = 2.662
const MICRO = 1e6

/** Poisson arrivals with service times of the given distribution in microseconds, carried by prompt lengths. */
function load(seed: number, ratePerSecond: number, serviceMicroseconds: DrawnSize, seconds: number): Requests {
  const at = poissonArrivals(rateCurve({ kind: 'steady', ratePerSecond }, seconds), new RandomStream(seed, 'queue', 'arrivals'))
  const out = emptyRequests(at.length)
  out.at.set(at)
  out.input.set(drawSizes(serviceMicroseconds, at.length, new RandomStream(seed, 'queue', 'service')))
  out.output.fill(1)
  return out
}

const exponential = (meanSeconds: number): DrawnSize => ({ kind: 'exponential', mean: meanSeconds * MICRO })

/** A token replica that serves one prompt at a time, a microsecond a token: a single server. */
const tokenServer = tokenProfile({
  maxSequences: 1, cacheTokens: 2e9, requestTokens: 2e9, prefillBaseSeconds: 0, prefillMemorySeconds: 0,
  prefillSecondsPerToken: 1 / MICRO, prefillSecondsPerTokenSquared: 0, memorySeconds: table(0, 1), arithmeticSeconds: table(0, 1), overheadSeconds: table(0, 1),
})
/** The same as a fixed-work replica without batching. */
const workServer = batchProfile({ maxBatch: 1, baseSeconds: 0, secondsPerWorkUnit: 1 / MICRO, windowSeconds: 0 })

type Reading = (sorted: Float64Array) => number | undefined

/** Mean of a reading over independent seeds with its 99 % half width. */
function simulated(ratePerSecond: number, service: DrawnSize, ruleSet: ServiceRules, measure: Measure, reading: Reading, seconds = HORIZON_SECONDS): { value: number; half: number } {
  const values = Array.from({ length: SEEDS }, (_, seed) => {
    const record = simulate(load(seed, ratePerSecond, service, seconds), ruleSet)
    return reading(finishedValues(record, measure, { classIndex: 0, fromSeconds: WARMUP_SECONDS, untilSeconds: seconds })) ?? NaN
  })
  const value = values.reduce((a, b) => a + b, 0) / SEEDS
  const variance = values.reduce((sum, v) => sum + (v - value) ** 2, 0) / (SEEDS - 1)
  return { value, half: (T99 * Math.sqrt(variance)) / Math.sqrt(SEEDS) }
}

function expectWithin(exact: number, { value, half }: { value: number; half: number }): void {
  expect(Math.abs(value - exact), `simulated ${value} ± ${half}, exact ${exact}`).toBeLessThanOrEqual(half)
  expect(half / exact, 'an interval this wide would prove nothing').toBeLessThan(0.03)
}

/** Probability that an arrival waits in M/M/c (Erlang C) for offered load a = λ/μ. */
function erlangC(c: number, a: number): number {
  let term = 1
  let sum = 0
  for (let k = 0; k < c; k++) {
    sum += term
    term *= a / (k + 1)
  }
  const last = term * (c / (c - a))
  return last / (sum + last)
}

describe('closed forms through the real engine, 99 % interval', () => {
  const horizon = { horizonSeconds: HORIZON_SECONDS * 2 }

  it.each([
    ['token', 0.5], ['token', 0.8], ['work', 0.8],
  ] as const)('M/M/1 through the %s profile at load %d: mean wait ρ/(μ−λ) and 95th percentile of latency', (kind, rho) => {
    const ruleSet = rules(1, { profile: kind === 'token' ? tokenServer : workServer, ...horizon })
    expectWithin(rho / (1 - rho), simulated(rho, exponential(1), ruleSet, 'wait', mean))
    expectWithin(-Math.log(0.05) / (1 - rho), simulated(rho, exponential(1), ruleSet, 'latency', (v) => percentile(v, 0.95)))
  })

  it.each([
    ['token', 3, 0.8], ['work', 6, 0.85],
  ] as const)('M/M/c through the %s profile and a shared queue, c = %d at load %d: mean wait by Erlang C', (kind, c, rho) => {
    const ruleSet = rules(c, { profile: kind === 'token' ? tokenServer : workServer, routing: 'shared-queue', ...horizon })
    const exact = erlangC(c, c * rho) / (c - c * rho)
    expectWithin(exact, simulated(c * rho, exponential(1), ruleSet, 'wait', mean, HORIZON_SECONDS / 3))
  })

  it.each([
    ['token', 0.7], ['work', 0.9],
  ] as const)('M/D/1 through the %s profile at load %d: mean wait ρ/(2(1−ρ))', (kind, rho) => {
    const ruleSet = rules(1, { profile: kind === 'token' ? tokenServer : workServer, ...horizon })
    expectWithin(rho / (2 * (1 - rho)), simulated(rho, { kind: 'fixed', value: MICRO }, ruleSet, 'wait', mean))
  })

  it('a wrong closed form is outside the interval, so that these tests can fail', () => {
    const reading = simulated(0.8, exponential(1), rules(1, { profile: tokenServer, ...horizon }), 'wait', mean)
    expect(Math.abs(reading.value - 4 * 1.05)).toBeGreaterThan(reading.half)
  })
})
