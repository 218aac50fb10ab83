import { withMachines, withService } from '../../test/partOf.ts'
import { describe, expect, it } from 'vitest'
import { skerrySound } from '../../../examples/make/skerrySound.ts'
import { recommend } from '../answer/recommend.ts'
import { policyRemarks } from '../explain/policyWords.ts'
import { checkPlan } from '../plan/read.ts'
import type { Plan, ScalingPolicy } from '../plan/schema.ts'
import { enumerate } from '../candidate/enumerate.ts'
import { driveHere } from './drive.ts'
import { billedSeconds, billOf } from '../cost/bill.ts'
import { Load } from './load.ts'
import { run } from '../run/run.ts'
import { TrialRunner } from './trialRunner.ts'

/** A day with two busy hours, by one service that answers within seconds; machines come in two minutes. */
const follow = (parts: Partial<ScalingPolicy> = {}): ScalingPolicy => ({
  name: 'follows the load',
  min: 1,
  max: 14,
  metrics: [{ metric: 'in-flight', target: 7 }],
  ...parts,
})
function dayWith(policies: ScalingPolicy[], more: Partial<Plan['services'][number]> = {}): Plan {
  const [pilots] = skerrySound.classes
  const [talk] = skerrySound.services
  const pebbles = withMachines(withService(skerrySound, talk.name), (name) => name === 'Northquay pebble')
  return checkPlan({
    ...pebbles,
    repetitions: 2,
    horizon: { ...skerrySound.horizon, seconds: 86_400, warmupSeconds: 3600 },
    classes: [
      {
        ...pilots,
        arrivals: { kind: 'hourly', ratesPerSecond: Array.from({ length: 24 }, (_, h) => (h === 9 || h === 15 ? 3 : 0.15)) },
        patienceSeconds: undefined,
        targets: [{ measure: 'latency', percentile: 75, seconds: 40 }],
      },
    ].map(({ patienceSeconds: _, ...c }) => c),
    // Only machines' time is paid here.
    machines: pebbles.machines.map(({ storagePerGigabyteMonth: _, transferPerGigabyte: __, ...m }) => m),
    services: [
      {
        ...talk,
        search: { sequences: [32], devices: [1], variants: ['8-bit'] },
        policies,
        start: {
          machineSeconds: 90,
          imageBytes: 8e9,
          imageBytesPerSecond: 0.5e9,
          weights: { from: 'store', bytesPerSecond: 0.6e9 },
          loadBytesPerSecond: 3e9,
          warmupSeconds: 20,
        },
        ...more,
      },
    ],
  })
}
const answerTo = (plan: Plan) => {
  const load = new Load(plan)
  return driveHere(recommend(plan, load), load).services[0]
}

describe('policies beside fixed numbers', () => {
  const plan = dayWith([follow(), follow({ name: 'reads the host', metrics: [{ metric: 'host-cpu', target: 0.7 }] })])
  const answer = answerTo(plan)

  it('one that follows the load holds the target for less money than the smallest fixed number, and the blind one fails', () => {
    expect(answer.chosen?.policy).toBe('follows the load')
    const fixed = answer.runnersUp.find((c) => c.policy === null)!
    expect(answer.chosen!.money.perMonth).toBeLessThan(fixed.money.perMonth * 0.75)
    expect(answer.chosen!.meanMachines).toBeLessThan(fixed.machines)
    const blind = answer.rejected.find((r) => r.policy === 'reads the host')!
    expect(blind.reason.replaceAll(/[\u00a0\u202f]/g, ' ')).toMatch(/pilot desk: p75 latency .*target 40.0 s .* the maximum of the policy/)
  })

  it('costs exactly the paid time of its machines, to the cent', () => {
    const service = plan.services[0]
    const candidate = enumerate(plan, service).find((c) => c.policy?.name === 'follows the load')!
    const load = new Load(plan)
    const costs = [0, 1].map((repetition) => {
      const { life } = run(plan, { service, candidate, groups: candidate.maxGroups }, load.of(service, repetition), {
        repetition,
        toTheEnd: true,
      })
      if (!life) throw new Error('a policy has a life')
      // By hand: seconds that each node was there, at 1.12 an hour.
      const seconds = life.nodes.reduce((sum, n) => sum + (n.until >= 86_400 ? n.until - n.from : Math.ceil(n.until - n.from - 1e-9)), 0)
      expect(billOf(candidate, life, 86_400).total / 24).toBeCloseTo((seconds * 1.12) / 86_400, 9)
      return (seconds * 1.12) / 86_400
    })
    expect(answer.chosen!.money.perMonth).toBeCloseTo(((costs[0] + costs[1]) / 2) * 730, 2)
  })

  it('paid time is rounded up to the step and to the minimum of the offer, but not what still runs', () => {
    const machine = { ...plan.machines[0], billingStepSeconds: 60, billingMinimumSeconds: 600 }
    expect([10, 600, 601, 660].map((s) => billedSeconds(s, machine, false))).toEqual([600, 600, 660, 660])
    expect(billedSeconds(601, machine, true)).toBe(601)
    expect(billedSeconds(1.2, enumerate(plan, plan.services[0])[0].prices, false)).toBe(2)
  })

  it('the bound of a policy is never above what it is paid, and a run of it is the same on every thread', () => {
    const service = plan.services[0]
    const load = new Load(plan)
    const candidate = enumerate(plan, service).find((c) => c.policy?.name === 'follows the load')!
    const order = {
      service: service.name,
      candidate: candidate.index,
      groups: candidate.maxGroups,
      repetition: 0,
      loadFactor: 1,
      toTheEnd: true,
    }
    const [a, b] = [0, 1].map(() => new TrialRunner(plan).run(order, load.of(service, 0)))
    expect(a).toEqual(b)
    expect(a.paidPerHour).toBeGreaterThanOrEqual(1.12)
    expect(a.meanMachines).toBeGreaterThanOrEqual(1)
  })

  it('a start-up slower than the surge fails where the fixed number holds', () => {
    const slow = answerTo(dayWith([follow()], { start: { ...plan.services[0].start!, machineSeconds: 2400 } }))
    expect(slow.chosen?.policy).toBeNull()
    expect(slow.rejected.some((r) => r.policy === 'follows the load')).toBe(true)
  })
})

describe('policies that contradict themselves are refused with a sentence', () => {
  it.each<[string, Partial<ScalingPolicy>, RegExp]>([
    ['minimum above maximum', { min: 9, max: 3 }, /policies\[0\]\.min is 9: it must be at most the maximum of 3/],
    ['to zero without saying when', { min: 0 }, /policies\[0\]\.idle: is missing/],
    ['nothing to go by', { metrics: [] }, /otherwise nothing ever changes/],
    ['a name that is taken', { name: 'fixed' }, /must be another name/],
    ['a time that is none', { schedule: [{ days: [1], from: '25:00', until: '08:00', min: 1 }] }, /must be a time of day/],
  ])('%s', (_, parts, words) => expect(() => dayWith([follow(parts)])).toThrow(words))
})

describe('what one should know of a policy', () => {
  const remarksOf = (plan: Plan, name: string) => {
    const service = plan.services[0]
    const candidate = enumerate(plan, service).find((c) => c.policy?.name === name)!
    return policyRemarks(service, candidate).map((r) => r.replaceAll(/[\u00a0\u202f]/g, ' '))
  }
  it('says that a metric is blind to what is short', () => {
    const plan = dayWith([follow({ metrics: [{ metric: 'host-cpu', target: 0.7, baseShare: 0.05, sharePerRequest: 0.002 }] })])
    expect(remarksOf(plan, 'follows the load')).toEqual([
      'The policy reads the host’s CPU, which shows 11.4 % when all 32 places of a replica are taken; its target is 70.0 %. It is blind to what is short, and never grows.',
    ])
    expect(remarksOf(dayWith([follow()]), 'follows the load')).toEqual([])
  })
  it('that a start-up never ends in time, and that a maximum is beyond what can be had', () => {
    const start = dayWith([follow()]).services[0].start!
    expect(remarksOf(dayWith([follow()], { start: { ...start, timeoutSeconds: 30 } }), 'follows the load')[0]).toMatch(
      /A start-up takes 64\.\d s once its machine is there, longer than its time-out of 30\.0 s/,
    )
    expect(remarksOf(dayWith([follow({ max: 90 })]), 'follows the load')).toEqual([
      'The policy may ask for 90 replicas; 40 can be placed, by the stock.',
    ])
  })
})
