import { describe, expect, it } from 'vitest'
import { boughtPlan, smallPlan } from '../../test/smallPlan.ts'
import { configured, refusalProblem } from '../answer/configured.ts'
import { sentence } from '../plan/problem.ts'
import { checkPlan } from '../plan/read.ts'
import type { Configuration, Machine, Model, Plan, Service } from '../plan/schema.ts'
import { RandomStream } from '../random/stream.ts'
import { purchaseName } from '../explain/purchaseWords.ts'
import { enumerate } from '../candidate/enumerate.ts'
import { refusalOf } from './refusal.ts'

const CORES: Model = {
  kind: 'cpu',
  name: 'tidier',
  baseSeconds: 0.2,
  secondsPerUnit: 0,
  coresPerRequest: 1,
  memoryBytes: 12e9,
  memoryBytesPerRequest: 0.1e9,
  variants: [{ name: 'plain' }],
}
const IMAGES: Model = {
  kind: 'work',
  name: 'eye',
  parameters: 1e9,
  fixedOperations: 1e12,
  operationsPerUnit: 1e11,
  activationBytesPerItem: 6e9,
  variants: [{ name: '16-bit', bytesPerWeight: 2, arithmeticBits: 16, diskBytes: 2e9 }],
}
const HOST: Machine = {
  name: 'gravel',
  provider: 'Northquay',
  region: 'north',
  device: 'Slate CPU',
  devices: 4,
  memoryBytesPerDevice: 24e9,
  bandwidthBytesPerSecond: 1e12,
  arithmeticPerSecond: { '16': 1e14 },
  hostCores: 4,
  hostMemoryBytes: 16e9,
  pricePerHour: 1,
  stock: 6,
}

/** One service that states a configuration of a model on one machine. */
function stated(model: Model, configuration: Partial<Configuration>, machine: Partial<Machine> = {}, service: Partial<Service> = {}): Plan {
  const plan = smallPlan(new RandomStream(1, 'stated'), 1)
  const { input: _, output: __, ...requestClass } = plan.classes[0]
  return checkPlan({
    ...plan,
    classes: [{ ...requestClass, work: { kind: 'fixed', value: 1 }, targets: [{ measure: 'latency', percentile: 90, seconds: 20 }] }],
    models: [model],
    machines: [{ ...HOST, ...machine }],
    services: [
      {
        name: 'talk',
        model: model.name,
        routing: 'least-busy',
        ...service,
        configuration: { machine: 'gravel', variant: model.variants[0].name, sequences: 1, replicas: 1, ...configuration },
      },
    ],
  })
}

/** What the command line would say; empty for what can be had and run. */
function said(plan: Plan): string {
  const [service] = plan.services
  const ready = configured(plan, service, service.configuration!)
  return ready.ok ? '' : sentence(refusalProblem(plan, 0, service.configuration!, ready.refusal))
}
const start = (imageBytes: number, from: 'store' | 'image' | 'node') => ({
  start: { imageBytes, imageBytesPerSecond: 1e9, weights: { from, bytesPerSecond: 1e9 }, loadBytesPerSecond: 1e9, warmupSeconds: 1 },
})

describe('a stated configuration that can not be had or run', () => {
  it.each<[string, Plan, string]>([
    [
      'more replicas than the stock',
      stated(IMAGES, { replicas: 25 }),
      'services[0].configuration.replicas is 25: it can not be had or run: it takes 7 machines, the stock is 6 machines (24 replicas)',
    ],
    ['more than the quota', stated(IMAGES, { replicas: 9 }, { quota: 2 }), 'the quota is 2 machines'],
    [
      'more than a ceiling lets through',
      stated(IMAGES, { replicas: 9 }, { ceilings: { replicas: 8 } }),
      'the replica ceiling is 2 machines',
    ],
    [
      'a machine that is sold out',
      stated(IMAGES, {}, { stock: 0 }),
      'services[0].configuration.machine is "gravel": it can not be had or run: no gravel can be had: the stock is 0',
    ],
    [
      'more items than memory has room for',
      stated(IMAGES, { sequences: 8 }),
      'services[0].configuration.sequences is 8: it can not be had or run: 8 side by side, the memory has room for 3',
    ],
    ['more requests than cores', stated(CORES, { sequences: 16 }), '16 side by side, the cores suffice for 4'],
    [
      'more than the concurrency ceiling',
      stated(CORES, { sequences: 3 }, { ceilings: { concurrency: 2 } }),
      '3 side by side, the concurrency ceiling has room for 2',
    ],
    [
      'more requests than the cores that a replica is given',
      stated(CORES, { sequences: 3 }, {}, { host: { cores: 2 } }),
      '3 side by side, the cores suffice for 2',
    ],
    [
      'four copies of 12 GB on a host of 16',
      stated(CORES, { replicas: 7 }, {}, { host: { cores: 1 } }),
      'it takes 7 machines, the stock is 6 machines (6 replicas)',
    ],
    [
      'a way of paying that has no price',
      stated(IMAGES, { purchase: 'spot' }),
      'services[0].configuration.purchase is "spot": it can not be had or run: gravel is not sold spot; it is sold on demand',
    ],
    [
      'by the hour what is sold by the call',
      stated(IMAGES, {}, { pricePerHour: undefined, pricePerRequest: 1e-4 } as Partial<Machine>),
      'gravel is not sold on demand; it is sold by the call',
    ],
    [
      'image and kept weights on a smaller disk',
      stated(IMAGES, {}, { diskBytes: 9e9 }, start(8e9, 'node')),
      'image and weights 10.0 GB, disk 9.00 GB',
    ],
    [
      'files above an artifact ceiling, on cores',
      stated(CORES, {}, { ceilings: { packageBytes: 10e9 } }),
      'its files are 12.0 GB, the offer takes 10.0 GB at most',
    ],
    [
      'more memory than the largest step, on devices',
      stated(IMAGES, {}, { ceilings: { memoryStepsBytes: [2e9, 4e9] } }),
      'the largest memory that is sold is 4.00 GB',
    ],
  ])('%s', (_, plan, words) => expect(said(plan).replaceAll('\u00a0', ' ')).toContain(words))

  it.each<[string, Plan]>([
    ['as many as the stock has', stated(IMAGES, { replicas: 24 })],
    ['the items that memory has room for', stated(IMAGES, { sequences: 3 })],
    ['one copy of 12 GB on a host of 16', stated(CORES, { replicas: 6, sequences: 4 })],
    ['weights that every start fetches anew, on a disk for the image', stated(IMAGES, {}, { diskBytes: 9e9 }, start(8e9, 'store'))],
    [
      'calls alone, without a price by the hour',
      stated(IMAGES, { purchase: 'per-request' }, { pricePerHour: undefined, pricePerRequest: 1e-4 } as Partial<Machine>),
    ],
    ['committed alone', stated(IMAGES, { purchase: 'committed' }, { pricePerHour: undefined, committedPerHour: 1 } as Partial<Machine>)],
  ])('%s can', (_, plan) => expect(said(plan)).toBe(''))

  it('an offer without any price is none', () =>
    expect(() => stated(IMAGES, {}, { pricePerHour: undefined } as Partial<Machine>)).toThrow(
      'unless the offer has a committed, a spot or a call price',
    ))
})

describe('what is stated obeys what is searched', () => {
  it('every candidate of a search is refused when it is stated if and only if the search rules it out for the same reason', () => {
    const seen = { refused: 0, taken: 0 }
    for (let number = 0; number < 30; number++) {
      const plan = boughtPlan(new RandomStream(number, 'stated too'), number)
      const [service] = plan.services
      for (const candidate of enumerate(plan, service)) {
        if (candidate.setting !== null) continue
        const groups = candidate.policy ? candidate.maxGroups : Math.min(6, Math.max(1, number % 5))
        const replicas = groups * candidate.group.replicas
        const { machine, variant, devices, sequences, purchase, policy } = candidate
        const configuration: Configuration = {
          machine: machine.name,
          variant: variant.name,
          devices,
          sequences,
          replicas,
          purchase: purchase.kind,
          safeShare: purchase.safeShare || 1,
          ...(policy && { policy: policy.name }),
        }
        const ready = configured(plan, service, configuration)
        const searched = refusalOf(candidate, groups)
        expect(ready.ok ? undefined : ready.refusal.kind, `${number} ${purchaseName(purchase)} ${JSON.stringify(configuration)}`).toBe(
          searched?.kind,
        )
        seen[ready.ok ? 'taken' : 'refused']++
      }
    }
    expect(Math.min(seen.refused, seen.taken)).toBeGreaterThan(200)
  })
})
