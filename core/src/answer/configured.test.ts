import { describe, expect, it } from 'vitest'
import { livingPlan } from '../../test/smallPlan.ts'
import { checkPlan } from '../plan/read.ts'
import type { Plan } from '../plan/schema.ts'
import { RandomStream } from '../random/stream.ts'
import { enumerate } from '../search/candidate.ts'
import { Load } from '../search/load.ts'
import { TrialRunner } from '../search/trialRunner.ts'
import { configured, simulateConfigured } from './configured.ts'

/** The candidate of a plan as its stated configuration. */
function stated(plan: Plan, pick: (c: ReturnType<typeof enumerate>[number]) => boolean) {
  const [service] = plan.services
  const candidate = enumerate(plan, service).find((c) => c.fit.fits && c.maxGroups > 0 && pick(c))
  if (!candidate) return undefined
  const { machine, variant, devices, sequences, policy, group } = candidate
  const configuration = { machine: machine.name, variant: variant.name, devices, sequences, replicas: group.replicas, ...(policy && { policy: policy.name }) }
  return { candidate, plan: checkPlan({ ...plan, services: [{ ...service, configuration }] }) }
}

describe('a stated configuration with a life', () => {
  it('is the run that the search makes of the same option, to the last digit, and costs the same', () => {
    const random = new RandomStream(8, 'configured')
    const seen = { policy: 0, fixed: 0 }
    for (let n = 0; n < 12; n++) {
      const base = checkPlan({ ...livingPlan(random, n), repetitions: 2 })
      for (const withPolicy of [true, false]) {
        const found = stated(base, (c) => (c.policy !== null) === withPolicy)
        if (!found) continue
        const { plan, candidate } = found
        const [service] = plan.services
        const load = new Load(plan, undefined)
        const ready = configured(plan, service, service.configuration!)
        if (!ready.ok) throw new Error('it fits as a candidate')
        // A policy may have what it asks for; the search has only what the stock has.
        if (ready.fleet && candidate.policy && ready.fleet.groups !== candidate.maxGroups) continue
        const result = simulateConfigured(plan, service, service.configuration!, load, ready)
        const groups = candidate.policy ? candidate.maxGroups : 1
        const trials = [0, 1].map((repetition) => new TrialRunner(plan).run({ service: service.name, candidate: candidate.index, groups, repetition, loadFactor: 1, toTheEnd: true }, load.of(service, repetition)))
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

  it('a policy that is not there is refused in words', () => {
    const plan = livingPlan(new RandomStream(9, 'configured'), 1)
    const [service] = plan.services
    expect(() => checkPlan({ ...plan, services: [{ ...service, configuration: { sequences: 8, replicas: 1, machine: plan.machines[0].name, variant: '16-bit', policy: 'tides' } }] })).toThrow(/configuration\.policy.*must be a name that stands in "policies"/s)
  })
})
