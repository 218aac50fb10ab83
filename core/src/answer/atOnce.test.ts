import { describe, expect, it } from 'vitest'
import { skerrySound } from '../../../examples/make/skerrySound.ts'
import { oneRequest } from '../one/oneRequest.ts'
import { checkPlan } from '../plan/read.ts'
import type { Configuration, RequestClass } from '../plan/schema.ts'
import { loadTest, type LoadTest } from './atOnce.ts'
import { bendWords } from './bendWords.ts'

const plan = checkPlan(skerrySound)
const [service] = plan.services
const configuration: Configuration = { machine: 'Fenland twin', variant: '8-bit', devices: 2, sequences: 16, replicas: 2 }
const drawn: RequestClass = plan.classes[0]
const fixed: RequestClass = { ...drawn, input: { kind: 'fixed', value: 600 }, output: { kind: 'fixed', value: 200 } }

function tested(c: RequestClass, clients: number[]): LoadTest {
  const test = loadTest(plan, service, configuration, c, clients)
  if ('refusal' in test) throw new Error('the place is there')
  return test
}

describe('a load test on paper', () => {
  it('of one caller takes as long as one request that is laid out', () => {
    const [alone] = tested(fixed, [1]).steps
    const one = oneRequest(plan, {
      service: service.name,
      machine: 'Fenland twin',
      variant: '8-bit',
      devices: 2,
      sequences: 16,
      finds: 'warm',
      input: 600,
      output: 200,
      others: 0,
      keptSeconds: 0,
    })
    const own = one.endSeconds
    expect(alone.latency.p99).toBeCloseTo(own, 9)
    expect(alone.requestsPerSecond).toBeCloseTo(1 / own, 6)
    expect(alone.answerTokensPerSecond! / alone.requestsPerSecond).toBeCloseTo(200, 6)
    expect(alone.waitShare).toBe(0)
  })

  it('has as many callers in it as rate times latency: the law of Little, at every number of callers', () => {
    for (const c of [fixed, drawn])
      for (const step of tested(c, [1, 4, 16, 32, 64, 100]).steps)
        expect(Math.abs((step.requestsPerSecond * step.latency.mean) / step.clients - 1), `${step.clients} callers`).toBeLessThan(0.05)
  })

  it('gives no more beyond its places, where callers wait the share of their time that is beyond them', () => {
    const { places, steps } = tested(fixed, [32, 64, 128])
    expect(places).toBe(32)
    const [full, twice, four] = steps
    expect(twice.requestsPerSecond / full.requestsPerSecond).toBeLessThan(1.15)
    expect(twice.waitShare).toBeGreaterThan(0.4)
    expect(twice.waitShare).toBeLessThan(0.6)
    expect(four.waitShare).toBeGreaterThan(0.65)
    expect(bendWords({ ...tested(fixed, [32, 64]) })).toMatch(
      /^from 32 to 64 at once it bends: .+ there are 32 places, so that callers wait \d/,
    )
    expect(bendWords(tested(fixed, [4]))).toBe('one number of callers shows nothing of where it bends: give several')
    expect(bendWords(tested(fixed, [1, 2]))).toBe('up to 2 at once each further caller adds: it does not bend here')
  })

  it('is not of what turns callers away: neither patience nor limits nor a policy count', () => {
    const strict: RequestClass = { ...fixed, patienceSeconds: 0.001, rateLimit: { unit: 'requests', perSecond: 0.01, burst: 1 } }
    expect(tested(strict, [64]).steps).toEqual(tested(fixed, [64]).steps)
    const narrow = loadTest(
      plan,
      { ...service, limits: { ...service.limits, queue: 0 } },
      { ...configuration, policy: 'none' },
      fixed,
      [64],
    )
    expect(narrow).toEqual({ ...tested(fixed, [64]), withoutPolicy: 'none' })
  })

  it('of what can not be had is refused', () => {
    expect(loadTest(plan, service, { ...configuration, replicas: 100_000 }, fixed, [1])).toHaveProperty('refusal')
  })
})
