import { withMachines, withService } from '../../test/partOf.ts'
import { describe, expect, it } from 'vitest'
import { skerrySound } from '../../../examples/make/skerrySound.ts'
import { bindingWords } from '../explain/bindingWords.ts'
import { checkPlan } from '../plan/read.ts'
import type { Plan } from '../plan/schema.ts'
import { enumerate } from '../candidate/enumerate.ts'
import { fleetOf, profileOf, type Candidate } from '../candidate/candidate.ts'
import type { Found } from './found.ts'
import { Load } from './load.ts'
import { bindingPart } from './binding.ts'

const [pilots] = skerrySound.classes
const [talk] = skerrySound.services
type Service = Plan['services'][number]

/** Two hours of one class with a spike, on one kind of machine; what is changed decides what gives way. */
function planWith(
  service: Partial<Service>,
  rate: number,
  spike: number,
  targets: Plan['classes'][number]['targets'] = [{ measure: 'latency', percentile: 90, seconds: 30 }],
): Plan {
  const { patienceSeconds: _, ...desk } = pilots
  return checkPlan({
    ...withMachines(withService(skerrySound, talk.name), (name) => name === 'Northquay ledge'),
    horizon: { ...skerrySound.horizon, seconds: 7200, warmupSeconds: 600 },
    classes: [
      {
        ...desk,
        arrivals: { kind: 'steady', ratePerSecond: rate, spikes: [{ startSeconds: 3000, durationSeconds: 1200, factor: spike }] },
        targets,
      },
    ],
    services: [{ ...talk, policies: undefined, limits: {}, search: { sequences: [32], devices: [1], variants: ['8-bit'] }, ...service }],
  } as Plan)
}
function bindingOf(plan: Plan, pick: (c: Candidate) => boolean = () => true, groups = 1) {
  const [service] = plan.services
  const candidate = enumerate(plan, service).find((c) => c.fit.fits && pick(c))!
  const most = candidate.elastic ? candidate.maxGroups : groups
  const found = { candidate, profile: profileOf(candidate), groups: most, ...fleetOf(candidate, most) } as Found
  return bindingPart(plan, service, found, new Load(plan).of(service, 0))
}
const slow = {
  ...talk.start!,
  machineSeconds: 20,
  machineP95Seconds: undefined,
  weights: { from: 'store' as const, bytesPerSecond: 0.03e9 },
}
const follow = (max: number) => [{ name: 'follows', min: 1, max, metrics: [{ metric: 'in-flight' as const, target: 10 }] }]

describe('what gives way first', () => {
  it('a start-up that takes eight minutes, where the load rises at once', () => {
    expect(bindingOf(planWith({ start: slow, policies: follow(8) }, 0.4, 12), (c) => c.policy !== null)).toMatchObject({ part: 'start-up' })
  })
  it('machines that take as long', () => {
    const plan = planWith({ start: { ...talk.start!, machineSeconds: 500, machineP95Seconds: undefined }, policies: follow(8) }, 0.4, 12)
    expect(bindingOf(plan, (c) => c.policy !== null)).toMatchObject({ part: 'machines that come' })
  })
  it('the maximum of a policy, once all that it may have is there', () => {
    const quick = {
      ...talk.start!,
      machineSeconds: 1,
      machineP95Seconds: undefined,
      weights: { from: 'image' as const, bytesPerSecond: 9e9 },
      imageBytesPerSecond: 50e9,
      loadBytesPerSecond: 90e9,
      warmupSeconds: 1,
    }
    const binding = bindingOf(planWith({ start: quick, policies: follow(2) }, 0.4, 20), (c) => c.policy !== null)
    expect(binding).toMatchObject({ part: 'maximum', replicas: 2, limitedBy: 'maximum of the policy' })
    expect(bindingWords(binding!)).toMatch(/while all 2 replicas are there that the policy lets there be/)
  })
  it('the stock, where a policy may have more than can be had', () => {
    const quick = {
      ...talk.start!,
      machineSeconds: 1,
      machineP95Seconds: undefined,
      weights: { from: 'image' as const, bytesPerSecond: 9e9 },
      imageBytesPerSecond: 50e9,
      loadBytesPerSecond: 90e9,
      warmupSeconds: 1,
    }
    const plan = planWith({ start: quick, policies: follow(9) }, 0.4, 20)
    const binding = bindingOf({ ...plan, machines: plan.machines.map((m) => ({ ...m, stock: 2 })) }, (c) => c.policy !== null)
    expect(binding).toMatchObject({ part: 'maximum', replicas: 2, limitedBy: 'stock' })
    expect(bindingWords(binding!)).toMatch(/while all 2 replicas are there that the stock lets there be/)
  })
  it('the sequence limit of a fixed number whose caches have room', () => {
    expect(
      bindingOf(planWith({ start: undefined, startupSeconds: 0, search: { sequences: [4], devices: [1], variants: ['8-bit'] } }, 0.3, 6)),
    ).toMatchObject({ part: 'sequence limit' })
  })
  it('the reading of memory, where everybody is served but each token takes too long', () => {
    const plan = planWith({ start: undefined, startupSeconds: 0 }, 0.5, 1, [{ measure: 'tpot', percentile: 90, seconds: 0.015 }])
    expect(bindingOf(plan)).toMatchObject({ part: 'bandwidth' })
  })
  it('nothing, where nobody is late', () => {
    expect(
      bindingOf(planWith({ start: undefined, startupSeconds: 0 }, 0.05, 1, [{ measure: 'latency', percentile: 90, seconds: 900 }])),
    ).toBeUndefined()
  })
})
