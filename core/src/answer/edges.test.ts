import { describe, expect, it } from 'vitest'
import { oneConfiguration } from '../../../examples/make/oneConfiguration.ts'
import type { Plan, RequestClass } from '../plan/schema.ts'
import { Load } from '../search/load.ts'
import { configured, simulateConfigured } from './configured.ts'

/** The smallest plan with one class changed, simulated as it stands. */
function simulated(parts: Partial<RequestClass>, seconds = 600, cacheTokens?: number, queueLimited = true) {
  const plan: Plan = structuredClone({
    ...oneConfiguration,
    repetitions: 1,
    horizon: { ...oneConfiguration.horizon, seconds, warmupSeconds: 0 },
  })
  plan.classes = [{ ...plan.classes[0], ...parts }]
  const [service] = plan.services
  if (!queueLimited) service.limits = undefined
  const configuration = service.configuration
  if (!configuration?.profile || configuration.profile.kind !== 'token') throw new Error('the example states a token profile')
  if (cacheTokens) configuration.profile.cacheTokens = cacheTokens
  const ready = configured(plan, service, configuration)
  if (!ready.ok) throw new Error('the example fits')
  const said = simulateConfigured(plan, service, configuration, new Load(plan), ready)
  return { ...said, remarks: said.remarks.map((r) => r.replaceAll(/[\u00a0\u202f]/g, ' ')), counts: said.run.overall.counts }
}

const endless = { patienceSeconds: undefined }

describe('edges have a defined result and a sentence', () => {
  it('a class without requests', () => {
    const { run, counts, meets, remarks } = simulated({ arrivals: { kind: 'steady', ratePerSecond: 0 } })
    expect(counts.arrivals).toBe(0)
    expect(run.overall.spreads.latency.p95).toBeUndefined()
    expect(run.overall.worstHours.latency).toBeNull()
    expect([run.replicas.busyShare, run.replicas.meanBatch]).toEqual([0, null])
    expect(meets).toBe(true)
    expect(remarks).toEqual([
      'No request of pilot desk arrives in the counted time: there is nothing to measure, and what it is promised counts as kept.',
    ])
  })

  it('a single request', () => {
    const { run, remarks } = simulated({ arrivals: { kind: 'closed-loop', clients: 1, requestsPerClient: 1, thinkSeconds: 0 } })
    const { latency } = run.overall.spreads
    expect(latency.count).toBe(1)
    expect([latency.mean, latency.p50, latency.p99]).toEqual([latency.max, latency.max, latency.max])
    expect(remarks).toEqual(['One request of pilot desk counts: every percentile is that one.'])
  })

  it('requests larger than the cache', () => {
    const { counts, remarks, meets } = simulated({ input: { kind: 'fixed', value: 5000 }, output: { kind: 'fixed', value: 10 } }, 600, 4000)
    expect(counts.tooLarge).toBe(counts.arrivals)
    expect(counts.arrivals).toBeGreaterThan(1000)
    expect(meets).toBe(false)
    expect(remarks[0]).toMatch(
      /^\d[\d ]+ of pilot desk are larger than a replica can hold \(4 000 tokens, prompt and answer together\) and refused on arrival/,
    )
  })

  it('more load than the replicas can bear for the whole horizon', () => {
    const { counts, run, remarks, meets } = simulated({ ...endless, arrivals: { kind: 'steady', ratePerSecond: 60 } })
    expect(counts.finished + counts.unfinished + counts.rejected).toBe(counts.arrivals)
    expect(run.replicas.busyShare).toBeGreaterThan(0.99)
    expect(meets).toBe(false)
    expect(counts.rejected).toBeGreaterThan(0.5 * counts.arrivals)
    expect(remarks.join(' ')).toMatch(
      /^The replicas are busy (99.\d|100.0) % of their time and \d+.?\d? % of the requests are turned away or give up: more comes in/,
    )
  })

  it('the same without a queue limit: they wait to the end, and a sentence says how many', () => {
    const { counts, remarks } = simulated({ ...endless, arrivals: { kind: 'steady', ratePerSecond: 60 } }, 600, undefined, false)
    expect(counts.unfinished).toBeGreaterThan(10_000)
    expect(remarks.join(' ')).toMatch(/At the end \d[\d ]+ requests are still there, \d[\d ]+ more than the replicas hold/)
  })

  it('a million requests within one second', () => {
    const { counts, run, remarks } = simulated(
      { arrivals: { kind: 'closed-loop', clients: 1_000_000, requestsPerClient: 1, thinkSeconds: 0, rampSeconds: 0.999 } },
      60,
    )
    expect(counts.arrivals).toBe(1_000_000)
    expect(counts.finished + counts.rejected + counts.abandoned + counts.unfinished).toBe(1_000_000)
    expect(run.busiestSecond).toBe(1_000_000)
    expect(remarks.join(' ')).toContain('1 000 000 requests arrive within one second, where the replicas hold 96 side by side')
  })

  it('ten clients in a closed loop are no wall, and what is served a second is of the time in which they came', () => {
    const { counts, run, record, remarks } = simulated(
      { arrivals: { kind: 'closed-loop', clients: 10, requestsPerClient: 40, thinkSeconds: 0 } },
      86_400,
    )
    expect(counts.finished).toBe(400)
    expect(run.busiestSecond).toBeLessThan(40)
    expect(remarks.join(' ')).not.toContain('within one second')
    const ended = record.end.reduce((most, t) => Math.max(most, t), 0)
    expect(ended).toBeLessThan(43_200)
    expect(run.requestsPerSecond).toBeCloseTo(400 / ended, 9)
    expect(run.outputTokensPerSecond).toBeCloseTo(counts.outputTokens / ended, 6)
  })
})
