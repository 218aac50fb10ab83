import { describe, expect, it } from 'vitest'
import { livingPlan } from '../../test/smallPlan.ts'
import { checkPlan } from '../plan/read.ts'
import type { Plan, Target } from '../plan/schema.ts'
import { RandomStream } from '../random/stream.ts'
import { enumerate } from '../candidate/enumerate.ts'
import { Load } from '../search/load.ts'
import { TrialRunner } from '../search/trialRunner.ts'
import { configured, simulateConfigured } from './configured.ts'

/** The candidate of a plan as its stated configuration. */
function stated(plan: Plan, pick: (c: ReturnType<typeof enumerate>[number]) => boolean) {
  const [service] = plan.services
  const candidate = enumerate(plan, service).find((c) => c.fit.fits && c.maxGroups > 0 && pick(c))
  if (!candidate) return undefined
  const { machine, variant, devices, sequences, policy, group } = candidate
  const configuration = {
    machine: machine.name,
    variant: variant.name,
    devices,
    sequences,
    replicas: group.replicas,
    ...(policy && { policy: policy.name }),
  }
  return { candidate, plan: checkPlan({ ...plan, services: [{ ...service, configuration }] }) }
}

describe('a stated configuration with a life', () => {
  it('is the run that the search makes of the same option, to the last digit, and costs the same', () => {
    const random = new RandomStream(8, 'configured')
    const seen = { policy: 0, fixed: 0 }
    for (let n = 0; n < 12; n++) {
      const plain = livingPlan(random, n)
      const base = checkPlan({ ...plain, repetitions: 2, horizon: { ...plain.horizon, begin: 'nothing' } })
      for (const withPolicy of [true, false]) {
        const found = stated(base, (c) => (c.policy !== null) === withPolicy)
        if (!found) continue
        const { plan, candidate } = found
        const [service] = plan.services
        const load = new Load(plan, undefined)
        const ready = configured(plan, service, service.configuration!)
        if (!ready.ok) throw new Error('it fits as a candidate')
        const result = simulateConfigured(plan, service, service.configuration!, load, ready)
        const groups = candidate.policy ? candidate.maxGroups : 1
        const trials = [0, 1].map((repetition) =>
          new TrialRunner(plan).run(
            { service: service.name, candidate: candidate.index, groups, repetition, loadFactor: 1, toTheEnd: true },
            load.of(service, repetition),
          ),
        )
        const mean = (values: number[]) => values.reduce((a, b) => a + b, 0) / values.length
        result.targets.forEach((t, i) => {
          const values = trials.map((r) => r.values?.[i] ?? NaN)
          if (values.every(Number.isFinite)) expect(t.interval?.mean).toBeCloseTo(mean(values), 12)
        })
        expect(result.money?.perHour).toBeCloseTo(mean(trials.map((r) => r.paidPerHour)), 9)
        expect(result.happenings.length).toBeGreaterThan(0)
        seen[withPolicy ? 'policy' : 'fixed']++
      }
    }
    expect(Math.min(seen.policy, seen.fixed)).toBeGreaterThan(3)
  })

  it.each<[string, Target]>([
    ['the time of a token', { measure: 'tpot', percentile: 95, seconds: 5 }],
    ['the lost share', { measure: 'lost', share: 0.5 }],
    ['the time of an answer, by the hour', { measure: 'latency', percentile: 95, seconds: 1e5, over: 'worst-hour' }],
  ])('a fleet that is never ready keeps nothing that it promised of %s, and says why', (_, target) => {
    const base = checkPlan({ ...livingPlan(new RandomStream(8, 'configured'), 0), repetitions: 1 })
    const { patienceSeconds: _patience, turns: _turns, retries: _retries, ...requestClass } = base.classes[0]
    const [service] = base.services
    const start = {
      machineSeconds: 0,
      imageBytes: 4e9,
      imageBytesPerSecond: 4e9,
      weights: { from: 'store' as const, bytesPerSecond: 1e9 },
      loadBytesPerSecond: 20e9,
      warmupSeconds: 2,
      timeoutSeconds: 15,
    }
    const { losses: _losses, limits: _limits, ...plain } = service
    const dead = checkPlan({
      ...base,
      horizon: { ...base.horizon, begin: 'nothing' },
      classes: [{ ...requestClass, targets: [target] }],
      services: [{ ...plain, start, configuration: { machine: 'ledge', variant: '8-bit', sequences: 8, replicas: 1 } }],
    })
    const ready = configured(dead, dead.services[0], dead.services[0].configuration!)
    if (!ready.ok) throw new Error('it fits')
    const result = simulateConfigured(dead, dead.services[0], dead.services[0].configuration!, new Load(dead), ready)
    expect(result.run.overall.counts.finished).toBe(0)
    expect(result.run.overall.counts.arrivals).toBeGreaterThan(100)
    expect(result.meets).toBe(false)
    expect(result.targets[0].certainty).toBe('misses')
    // 1 s of image, 14 s of weights, 0.7 s of loading, 2 s of warm-up.
    const words = result.remarks.join(' ').replaceAll('\u00a0', ' ')
    expect(words).toContain(
      'A start-up takes 17.7 s once its machine is there, longer than its time-out of 15.0 s: it is begun anew each time, and no replica is ever ready. A time-out above 17.7 s would do',
    )
    expect(words).not.toContain('add replicas')
  })

  it('a policy that is not there is refused in words', () => {
    const plan = livingPlan(new RandomStream(9, 'configured'), 1)
    const [service] = plan.services
    expect(() =>
      checkPlan({
        ...plan,
        services: [
          { ...service, configuration: { sequences: 8, replicas: 1, machine: plan.machines[0].name, variant: '16-bit', policy: 'tides' } },
        ],
      }),
    ).toThrow(/configuration\.policy.*must be a name that stands in "policies"/s)
  })
})
