import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { loadTest } from '../../../test/loadTest.ts'
import { tokenProfile } from '../../../test/makeProfiles.ts'
import type { Measurement, MeasurementRow } from '../../plan/schema.ts'
import { givenProfile, table } from '../given.ts'
import { decodeStepSeconds, prefillStepSeconds, type TokenProfile } from '../profile.ts'
import { calibrate } from './calibrate.ts'
import { nonNegative } from './leastSquares.ts'

const limits = {
  sequences: 64,
  cacheTokens: 1e6,
  contextTokens: 1e6,
  windowSeconds: 0,
  batching: { prompts: 'whole', maxPrefillTokens: 8192, stepTokens: 2048, reservation: 'whole' },
} as const
const measurement = (rows: MeasurementRow[], more: Partial<Measurement> = {}): Measurement => ({ machine: 'anything', rows, ...more })
const room = { maxSequences: 64, cacheTokens: 1e6, requestTokens: 1e6 }
const PLAN = [
  [1, 200, 60],
  [1, 800, 60],
  [1, 3000, 120],
  [4, 400, 150],
  [8, 800, 200],
  [16, 400, 200],
  [16, 1500, 300],
  [32, 800, 250],
] as const

function fitted(profile: TokenProfile) {
  const rows = PLAN.map(([n, p, o]) => loadTest(profile, n, p, o, 60))
  const calibration = calibrate(measurement(rows), 'token')!
  const made = givenProfile(calibration.spec, limits, 'measured')
  if (made.kind !== 'token') throw new Error('expected a token profile')
  return { calibration, made, rows }
}

describe('step costs from load tests that the engine ran', () => {
  it('where reading binds: the profile behind the figures is found again', () => {
    const profile = tokenProfile({
      ...room,
      arithmeticSeconds: table(0, 64),
      overheadSeconds: table({ base: 0.002, perSequence: 1e-4 }, 64),
      memorySeconds: table(0.014, 64),
      prefillMemorySeconds: 0,
    })
    const { calibration, made } = fitted(profile)
    expect(made.source).toBe('measured')
    expect(calibration.worstError).toBeLessThan(0.06)
    for (const [n, k] of [
      [1, 400],
      [8, 8000],
      [32, 30_000],
    ])
      expect(decodeStepSeconds(made, n, k) / decodeStepSeconds(profile, n, k)).toBeCloseTo(1, 1)
    for (const p of [200, 1000, 3000])
      expect(Math.abs(prefillStepSeconds(made, p, p ** 2) / prefillStepSeconds(profile, p, p ** 2) - 1)).toBeLessThan(0.02)
    expect(calibration.warnings).toEqual([])
    expect(calibration.range).toMatchObject({ concurrency: [1, 32] })
  })

  it('where arithmetic binds beyond some sequences: the kink is found', () => {
    const profile = tokenProfile({
      ...room,
      arithmeticSeconds: table({ base: 0, perSequence: 0.003 }, 64),
      overheadSeconds: table(0.002, 64),
      memorySeconds: table(0.02, 64),
      cacheSecondsPerToken: 1e-7,
      prefillMemorySeconds: 0,
    })
    const { calibration, made } = fitted(profile)
    expect(calibration.spec).toMatchObject({ arithmeticSeconds: { base: 0 } })
    for (const [n, k] of [
      [1, 400],
      [4, 2000],
      [32, 30_000],
    ])
      expect(Math.abs(decodeStepSeconds(made, n, k) / decodeStepSeconds(profile, n, k) - 1)).toBeLessThan(0.1)
  })

  it('the intervals hold the figures of noisy tests about as often as they say', () => {
    const truth = { P0: 0.006, P1: 9e-5, M: 0.014, m1: 2e-7 }
    let held = 0
    let all = 0
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 1e6 }), (seed) => {
        let state = seed
        const noise = () => {
          // Twelve uniforms make a near-normal error of 2 %.
          let sum = -6
          for (let i = 0; i < 12; i++) sum += (state = (state * 48271) % 2147483647) / 2147483647
          return 1 + 0.02 * sum
        }
        const rows = [1, 1, 1, 2, 4, 8, 16, 16, 24, 32].map((n, i): MeasurementRow => {
          const [input, output] = [300 + 350 * i, 200]
          const prefill = truth.P0 + truth.P1 * input
          const step = truth.M + truth.m1 * n * (input + output / 2)
          return {
            concurrency: n,
            input,
            output,
            count: 100,
            ttftSeconds: prefill * noise(),
            tpotSeconds: (step + ((n - 1) / (output - 1)) * prefill) * noise(),
          }
        })
        for (const c of calibrate(measurement(rows), 'token')!.coefficients) {
          if (c.low === undefined || c.high === undefined || !(c.symbol in truth)) continue
          all++
          const true_ = truth[c.symbol as keyof typeof truth] // `in` was just asked
          if (c.low <= true_ && true_ <= c.high) held++
        }
      }),
      { numRuns: 150, seed: 21 },
    )
    expect(all).toBeGreaterThan(300)
    expect(held / all).toBeGreaterThan(0.88)
  })
})

describe('warnings that a measurement is no capacity figure', () => {
  const kinds = (m: Measurement) => calibrate(m, 'token')!.warnings.map((w) => w.kind)
  const row = (parts: Partial<MeasurementRow>): MeasurementRow => ({
    concurrency: 1,
    input: 500,
    output: 100,
    count: 50,
    ttftSeconds: 0.05,
    tpotSeconds: 0.02,
    ...parts,
  })

  it.each<[string, Measurement, string[]]>([
    ['one call', measurement([row({ count: 1 })]), ['one-call', 'few-samples', 'one-size']],
    [
      'how many were side by side is not said',
      measurement([row({}), row({ concurrency: 4, input: 900 })], { concurrencyStated: false }),
      ['concurrency-unstated'],
    ],
    ['start-up is within', measurement([row({}), row({ concurrency: 4, input: 900 })], { warmedUp: false }), ['cold']],
    [
      'TTFT beside others only',
      measurement([row({ concurrency: 8 }), row({ concurrency: 16, input: 900, tpotSeconds: 0.03 })]),
      ['crowded-ttft'],
    ],
  ])('%s', (_, m, expected) => expect(kinds(m)).toEqual(expect.arrayContaining(expected)))

  it('as many figures as coefficients say nothing of how sure they are', () => {
    const { warnings, coefficients } = calibrate(measurement([row({})]), 'token')!
    expect(warnings.map((w) => w.kind)).toContain('no-spare')
    expect(coefficients.every((c) => c.low === undefined)).toBe(true)
  })

  it('nothing that can be used is no fit, not a bad one', () => {
    expect(calibrate(measurement([{ concurrency: 4, ttftSeconds: 1 }]), 'token')).toBeUndefined()
    expect(calibrate(measurement([row({})]), 'batch')).toBeUndefined()
  })
})

describe('fixed work', () => {
  it('batches: base and units grow with the batch', () => {
    const rows = [1, 2, 4, 8].flatMap((n) =>
      [5, 20, 40].map((work): MeasurementRow => ({
        concurrency: n,
        work,
        count: 50,
        latencySeconds: 0.06 + 0.01 * n + work * (0.002 + 0.003 * n),
      })),
    )
    const { spec, worstError } = calibrate(measurement(rows), 'batch')!
    expect(worstError).toBeLessThan(1e-6)
    if (spec.kind !== 'iterative') throw new Error('expected steps')
    expect(table(spec.fixedSeconds, 8)[8]).toBeCloseTo(0.14, 8)
    expect(table(spec.stepSeconds, 8)[8]).toBeCloseTo(0.026, 8)
  })

  it('side by side: what they slow each other', () => {
    const rows = [1, 2, 4].flatMap((n) =>
      [1, 3].map((work): MeasurementRow => ({ concurrency: n, work, count: 50, latencySeconds: (0.1 + 0.2 * work) * (1 + 0.4 * (n - 1)) })),
    )
    const { spec } = calibrate(measurement(rows), 'shared')!
    if (spec.kind !== 'shared') throw new Error('expected side by side')
    expect(spec.slowdown).toBeCloseTo(0.4, 6)
    expect(spec.secondsPerWorkUnit).toBeCloseTo(0.2, 6)
  })
})

describe('non-negative least squares', () => {
  it('no other non-negative coefficients fit better, whatever the equations', () => {
    fc.assert(
      fc.property(
        fc.array(
          fc.tuple(
            fc.double({ min: 0, max: 1, noNaN: true }),
            fc.double({ min: 0, max: 1e4, noNaN: true }),
            fc.double({ min: 0.01, max: 5, noNaN: true }),
          ),
          { minLength: 3, maxLength: 12 },
        ),
        fc.double({ min: -0.5, max: 0.5, noNaN: true }),
        fc.double({ min: -0.5, max: 0.5, noNaN: true }),
        (raw, da, db) => {
          const equations = raw.map(([a, b, value]) => ({ features: [a, b], value, weight: 1 / value ** 2 }))
          const { estimates, squaredError } = nonNegative(equations)
          const [x, y] = estimates.map((e) => e.value)
          const error = (u: number, v: number) =>
            equations.reduce((sum, e) => sum + e.weight * (e.value - u * e.features[0] - v * e.features[1]) ** 2, 0)
          expect(Math.min(x, y)).toBeGreaterThanOrEqual(0)
          expect(squaredError).toBeCloseTo(error(x, y), 6)
          const other = error(Math.max(0, x + da * (x || 1)), Math.max(0, y + (db * (y || 1)) / 1e3))
          expect(squaredError).toBeLessThanOrEqual(other * (1 + 1e-6) + 1e-9)
        },
      ),
      { numRuns: 200, seed: 3 },
    )
  })
})
