import { describe, expect, it } from 'vitest'
import { skerrySound } from '../../../examples/make/skerrySound.ts'
import { oneRequest } from '../one/oneRequest.ts'
import { checkPlan } from '../plan/read.ts'
import type { Configuration, RequestClass } from '../plan/schema.ts'
import { configured } from '../answer/configured.ts'
import { Load } from '../search/load.ts'
import { loadTest, usualClients, type LoadTest, type Pressing } from './loadTest.ts'
import type { Sent } from './testedLoad.ts'
import { bendWords } from './bendWords.ts'

const plan = checkPlan(skerrySound)
const [service] = plan.services
const configuration: Configuration = { machine: 'Fenland twin', variant: '8-bit', devices: 2, sequences: 16, replicas: 2 }
const drawn: RequestClass = plan.classes[0]
const fixed: RequestClass = { ...drawn, input: { kind: 'fixed', value: 600 }, output: { kind: 'fixed', value: 200 } }

function specOf(stated: Configuration, by = service) {
  const ready = configured(plan, by, stated)
  if (!ready.ok) throw new Error('the place is there')
  return ready.spec
}
function tested(
  c: RequestClass,
  pressures?: number[],
  pressing: Pressing = 'at once',
  sent: Sent = 'as drawn',
  spec = specOf(configuration),
): LoadTest {
  const own = { ...plan, classes: [c, ...plan.classes.slice(1)] }
  const test = [...loadTest(own, spec, new Load(own), { className: c.name, sent }, pressing, pressures)].at(-1)
  if (!test) throw new Error('it can be tested')
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
        expect(Math.abs((step.requestsPerSecond * step.latency.mean) / step.clients! - 1), `${step.clients} callers`).toBeLessThan(0.05)
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
    const narrow = specOf(configuration, { ...service, limits: { ...service.limits, queue: 0 } })
    expect(tested(fixed, [64], 'at once', 'as drawn', narrow)).toEqual(tested(fixed, [64]))
  })

  it('of a policy is of one group of machines that stays, and what may be taken away is not', () => {
    const [policy] = service.policies ?? []
    const scaled = tested(fixed, [8], 'at once', 'as drawn', specOf({ ...configuration, policy: policy.name }))
    const one = tested(fixed, [8], 'at once', 'as drawn', specOf({ ...configuration, replicas: 1 }))
    expect(scaled).toEqual({ ...one, withoutPolicy: policy.name })
    const stack: Configuration = { machine: 'Firth stack', variant: '4-bit', sequences: 16, replicas: 1 }
    const [spot, kept] = [specOf({ ...stack, purchase: 'spot' }), specOf(stack)].map((s) => tested(fixed, [8], 'at once', 'as drawn', s))
    expect(spot).toEqual(kept)
  })

  it('of rates: what comes is answered up to what callers at once get at the most, and beyond that latency grows as long as it lasts', () => {
    const most = tested(fixed, [64]).steps[0].requestsPerSecond
    const climbing = tested(fixed, undefined, 'a second')
    expect(climbing.steps.map((s) => s.offeredPerSecond! / most)).toEqual(
      [0.1, 0.25, 0.5, 0.6, 0.7, 0.8, 0.9, 0.95, 1, 1.1].map((x) => expect.closeTo(x, 9)),
    )
    for (const s of climbing.steps) {
      // Poisson counts spread by their root.
      if (s.offeredPerSecond! < 0.9 * most) expect(Math.abs(s.requestsPerSecond / s.offeredPerSecond! - 1)).toBeLessThan(0.1)
      expect(s.requestsPerSecond).toBeLessThan(1.05 * most)
    }
    expect(climbing.steps.map((s) => s.latency.p50)).toEqual(climbing.steps.map((s) => s.latency.p50).toSorted((a, b) => a - b))
    const [low, beyond] = tested(fixed, [most / 10, 2 * most], 'a second').steps
    expect(low.latency.p50 / tested(fixed, [1]).steps[0].latency.p50).toBeLessThan(1.3)
    expect(beyond.waitShare).toBeGreaterThan(0.5)
    expect(bendWords(tested(fixed, [most / 10, 2 * most], 'a second'))).toMatch(
      /^up to .+ as many are answered as come .+; of .+ only .+ are, and latency grows as long as that lasts: callers wait/,
    )
    expect(bendWords(tested(fixed, [most / 10, most / 9], 'a second'))).toMatch(/as many are answered as come; it does not bend here$/)
  })

  it('of a rate far beyond what is borne sends no more than can be simulated', () => {
    const [step] = tested(fixed, [1e6], 'a second').steps
    expect(step.requests).toBeLessThan(210_000)
    expect(step.requests).toBeGreaterThan(190_000)
  })

  it('of short and long requests sends one size each', () => {
    const times = (sent: Sent) => tested(drawn, [1], 'at once', sent).steps[0].latency
    const [short, long] = [times('short'), times('long')]
    expect(short.p50).toBeCloseTo(short.p99, 9)
    const all = times('as drawn')
    expect(short.p50).toBeLessThan(all.p50)
    expect(long.p50).toBeGreaterThan(1.5 * all.p50)
    expect(long.p50).toBeLessThan(all.p99)
  })

  it('without numbers takes powers of two, the places and twice them', () => {
    expect(usualClients(1)).toEqual([1, 2, 4])
    expect(usualClients(12)).toEqual([1, 2, 4, 8, 12, 16, 24, 32])
  })
})
