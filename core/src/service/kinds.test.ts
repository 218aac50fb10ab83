import { describe, expect, it } from 'vitest'
import { skerrySound } from '../../../examples/make/skerrySound.ts'
import { misfitSentence } from '../explain/misfitSentence.ts'
import { checkPlan } from '../plan/read.ts'
import type { Machine, Model, Plan, Service, Variant } from '../plan/schema.ts'
import { hostMisfit } from './constraints.ts'
import { expertShares, expertSplit } from './experts.ts'
import { fit, type Fit } from './fit.ts'
import { groupOf as groupOfService } from './host.ts'
import { compareQuality, samplesToClear, wilson } from './quality.ts'
import { bytesPerWeight } from './variant.ts'

const variant: Variant = { name: 'plain', weightBits: 16, cacheBits: 16, arithmeticBits: 16 }
const assumptions = skerrySound.assumptions
const base = skerrySound.machines.find((m) => m.name === 'Northquay headland')!
const machine = (parts: Partial<Machine> = {}): Machine => ({ ...base, ...parts })
const service = (parts: Partial<Service> = {}): Service => ({
  name: 's',
  model: 'm',
  routing: 'least-busy',
  search: { sequences: [8] },
  ...parts,
})
const avocet: Model = {
  kind: 'experts',
  name: 'm',
  parameters: 40e9,
  activeParameters: 13e9,
  experts: 8,
  expertsPerToken: 2,
  layers: 32,
  width: 4096,
  keyValueHeads: 8,
  headSize: 128,
  contextTokens: 32_768,
  variants: [variant],
}
const place = (model: Model, m: Machine, devices: number, s = service(), v = model.variants[0]): Fit =>
  fit(skerrySound, s, model, v, m, devices)
const profile = (f: Fit, sequences = 8) => {
  if (!f.fits) throw new Error(misfitSentence(f.misfit))
  return f.profile({ sequences })
}
const why = (f: Fit) => (f.fits ? 'fits' : misfitSentence(f.misfit).replaceAll(/[\u00a0\u202f]/g, ' '))

const GIVEN: Model = { kind: 'given', name: 'given', variants: [] }
const groupOf = (machine: Pick<Machine, 'devices' | 'hostCores' | 'hostMemoryBytes'>, devices: number, host: Service['host'] = {}) =>
  groupOfService({ host }, GIVEN, machine, devices, 1)

describe('a mixture of experts', () => {
  it('divides into what all share and what experts hold', () => {
    const { sharedParameters, expertParameters } = expertSplit(avocet)
    expect(expertParameters).toBeCloseTo(36e9, -3)
    expect(sharedParameters + expertParameters * (2 / 8)).toBeCloseTo(13e9, -3)
  })

  it('n tokens hit 1 − (1 − k/E)ⁿ of the experts, all in the end', () => {
    const shares = expertShares(8, 2, 40)
    expect(shares[1]).toBeCloseTo(0.25, 12)
    expect(shares[2]).toBeCloseTo(1 - 0.75 ** 2, 12)
    expect(shares[40]).toBeGreaterThan(0.9999)
    expect(expertShares(4, 4, 3)[1]).toBe(1)
  })

  it('reads the experts that are hit, reckons with the active, and prefills with all', () => {
    const p = profile(place(avocet, machine(), 4))
    if (p.kind !== 'token') throw new Error('expected tokens')
    const rate = 4 * 3.2e12 * assumptions.memoryEfficiency
    expect(p.memorySeconds[1]).toBeCloseTo((13e9 * 2) / rate, 12)
    expect(p.memorySeconds[2]).toBeCloseTo(((4e9 + 36e9 * (1 - 0.75 ** 2)) * 2) / rate, 12)
    expect(p.prefillMemorySeconds).toBeCloseTo((40e9 * 2) / rate, 12)
    expect(p.arithmeticSeconds[3]).toBeCloseTo((3 * 2 * 13e9) / (4 * 850e12 * assumptions.arithmeticEfficiency), 15)
  })
})

describe('models of operations', () => {
  const image = (parts: object): Model =>
    ({
      kind: 'iterative',
      name: 'm',
      parameters: 2e9,
      fixedOperations: 4e12,
      operationsPerStep: 12e12,
      activationBytesPerItem: 6e9,
      variants: [variant],
      ...parts,
    }) as Model // a test's union by hand
  it('an iterative one reads its weights in every step', () => {
    const p = profile(place(image({}), machine(), 1))
    if (p.kind !== 'batch') throw new Error('expected batches')
    const F = 850e12 * assumptions.arithmeticEfficiency
    const read = 4e9 / (3.2e12 * assumptions.memoryEfficiency)
    expect(p.baseSeconds[4]).toBeCloseTo(assumptions.launchSeconds + Math.max(read, (4 * 4e12) / F), 12)
    expect(p.secondsPerWorkUnit[4]).toBeCloseTo(assumptions.launchSeconds + Math.max(read, (4 * 12e12) / F), 12)
  })

  it('fixed work reads them once', () => {
    const model: Model = { kind: 'work', name: 'm', parameters: 2e9, fixedOperations: 0, operationsPerUnit: 5e11, variants: [variant] }
    const p = profile(place(model, machine(), 1))
    if (p.kind !== 'batch') throw new Error('expected batches')
    expect(p.secondsPerWorkUnit[3]).toBeCloseTo((3 * 5e11) / (850e12 * assumptions.arithmeticEfficiency), 12)
  })

  it('items of a batch need room', () => {
    const f = place(image({}), machine(), 1)
    const room = 96e9 * 0.9 - 4e9 - 0.8e9
    expect(f.fits && f.mostSequences).toBe(Math.floor(room / 6e9))
    expect(f.fits && f.boundBy).toBe('memory')
  })
})

describe('a plain CPU model', () => {
  const model: Model = {
    kind: 'cpu',
    name: 'm',
    baseSeconds: 0.04,
    secondsPerUnit: 0.01,
    coresPerRequest: 2,
    memoryBytes: 3e9,
    memoryBytesPerRequest: 0.5e9,
    slowdown: 0.1,
    variants: [{ name: 'plain' }],
  }
  const host = machine({ hostCores: 16, coreSpeed: 2, hostMemoryBytes: 64e9 })
  it('runs on the cores of the host, at their speed, as many as they bear', () => {
    const f = place(model, host, 1)
    expect(profile(f, 8)).toMatchObject({ kind: 'shared', baseSeconds: 0.02, secondsPerWorkUnit: 0.005, slowdown: 0.1, slots: 8 })
    expect(f.fits && [f.mostSequences, f.boundBy]).toEqual([8, 'cores'])
  })
  it.each<[string, Partial<Machine>, RegExp]>([
    ['without a host', { hostCores: undefined } as Partial<Machine>, /cores and memory of the host are not stated/],
    ['with too little memory', { hostMemoryBytes: 3.2e9 }, /takes 3.50 GB of host memory, the machine has 3.20 GB/],
    ['where memory is sold in steps', { ceilings: { memoryStepsBytes: [1e9, 2e9] } }, /the largest memory that is sold is 2.00 GB/],
    ['with too few cores', { hostCores: 1 }, /the cores suffice for 0/],
  ])('%s it says why not', (_, parts, words) => expect(why(place(model, { ...host, ...parts }, 1))).toMatch(words))
})

describe('what a replica takes of its host', () => {
  const four = machine({ devices: 4, memoryBytesPerDevice: 48e9, linkBytesPerSecond: 400e9, hostCores: 32, hostMemoryBytes: 128e9 })
  it.each<[string, NonNullable<Service['host']>, number, string]>([
    ['nothing: its devices count', {}, 4, 'devices'],
    ['12 of 32 cores: two have room', { cores: 12 }, 2, 'cores'],
    ['40 of 128 GB: three have room', { memoryBytes: 40e9 }, 3, 'host memory'],
    ['both: the scarcer counts', { cores: 8, memoryBytes: 100e9 }, 1, 'host memory'],
  ])('%s', (_, host, replicas, boundBy) => expect(groupOf(four, 1, host)).toEqual({ machines: 1, replicas, boundBy }))

  it('does not fit where one alone takes more than there is, or nobody knows what there is', () => {
    const service = { name: 's', routing: 'least-busy' as const }
    expect(hostMisfit({ ...service, host: { cores: 40 } }, four)).toEqual({ kind: 'host-cores', needed: 40, hostCores: 32 })
    expect(hostMisfit({ ...service, host: { memoryBytes: 130e9 } }, four)).toEqual({
      kind: 'host-memory',
      neededBytes: 130e9,
      hostBytes: 128e9,
    })
    expect(hostMisfit({ ...service, host: { cores: 1 } }, { ...four, hostCores: undefined })).toEqual({ kind: 'no-host' })
    expect(hostMisfit({ ...service, host: { cores: 32 } }, four)).toBeUndefined()
    expect(misfitSentence({ kind: 'host-cores', needed: 40, hostCores: 32 })).toBe(
      'a replica takes 40.0 cores of the host, the machine has 32.0',
    )
  })
})

describe('a replica over several hosts', () => {
  const dense: Model = { ...avocet, kind: 'dense', variants: [variant] } as Model // the fields of experts do no harm here
  const two = machine({
    devices: 2,
    memoryBytesPerDevice: 48e9,
    linkBytesPerSecond: 400e9,
    hopSeconds: 4e-6,
    hostLinkBytesPerSecond: 25e9,
    hostHopSeconds: 2e-5,
  })
  it('takes whole machines, and adds up inside each and then between them', () => {
    const p = profile(place(dense, two, 4))
    if (p.kind !== 'token') throw new Error('expected tokens')
    expect(p.overheadSeconds[8]).toBeCloseTo(
      assumptions.launchSeconds + 32 * 2 * (2 * 4e-6 + (8 * 4096 * 2) / 400e9 + 2 * 2e-5 + (8 * 4096 * 2) / 25e9),
      12,
    )
    expect(why(place(dense, two, 3))).toBe('3 devices are not whole machines of 2')
    expect(groupOf(two, 4)).toEqual({ machines: 2, replicas: 1, boundBy: 'devices' })
    expect(groupOf(two, 1)).toEqual({ machines: 1, replicas: 2, boundBy: 'devices' })
  })
  it('only where a link between hosts is known, and in splits that are allowed', () => {
    expect(why(place(dense, { ...machine({ devices: 2 }), hostLinkBytesPerSecond: undefined } as Machine, 4))).toMatch(
      /has 2 and no link to others is known/,
    )
    expect(why(place(dense, machine({ splits: [1, 8] }), 2))).toBe('a replica over 2 devices; the machine splits into 1, 8')
  })
})

describe('ceilings, licence, quality and context', () => {
  const model: Model = { ...avocet, contextTokens: 1_000_000, variants: [{ ...variant, diskBytes: 82e9 }] } as Model
  it.each<[string, Partial<Machine>, Partial<Service>, Partial<Variant>, RegExp]>([
    ['files too large', { ceilings: { packageBytes: 10e9 } }, {}, {}, /its files are 82.0 GB, the offer takes 10.0 GB at most/],
    ['no accelerator', { ceilings: { accelerator: false } }, {}, {}, /no accelerator behind this offer/],
    [
      'a licence that forbids',
      {},
      { search: { sequences: [8], licensedForProduction: true } },
      { licence: { production: false, note: 'research only' } },
      /forbids production: research only/,
    ],
    [
      'no licence at all',
      {},
      { search: { sequences: [8], licensedForProduction: true } },
      {},
      /nothing says that its licence allows production/,
    ],
    [
      'a floor that is not cleared for sure',
      {},
      { search: { sequences: [8], qualityFloor: 0.8 } },
      { quality: { score: 0.82, samples: 200 } },
      /lies between .* the floor is 80.0 %: undecided below 1 537 samples/,
    ],
    ['no score', {}, { search: { sequences: [8], qualityFloor: 0.8 } }, {}, /no quality score/],
    [
      'a context that the cache can not hold once',
      {},
      { limits: { contextTokens: 600_000 } },
      {},
      /one request may have 600 000; needs 2 devices/,
    ],
  ])('%s', (_, m, s, v, words) => expect(why(place(model, machine(m), 1, service(s), { ...model.variants[0], ...v }))).toMatch(words))
})

describe('quality scores', () => {
  it("Wilson's interval as in its textbook example, and the samples that decide", () => {
    expect(wilson(0.8, 100).low).toBeCloseTo(0.7112, 4)
    expect(wilson(0.8, 100).high).toBeCloseTo(0.8666, 4)
    const n = samplesToClear(0.82, 0.8)
    expect(wilson(0.82, n).low).toBeGreaterThanOrEqual(0.8)
    expect(wilson(0.82, n - 2).low).toBeLessThan(0.8)
  })
  it('small differences over few samples are undecided, not ranked', () => {
    const scored = (score: number, samples: number): Variant => ({ ...variant, quality: { score, samples } })
    expect(compareQuality(scored(0.84, 100), scored(0.81, 100)).verdict).toBe('undecided')
    expect(compareQuality(scored(0.84, 10_000), scored(0.81, 10_000)).verdict).toBe('better')
    expect(compareQuality(scored(0.5, 400), scored(0.8, 400)).verdict).toBe('worse')
    expect(compareQuality(variant, scored(0.8, 400)).verdict).toBe('unknown')
  })
})

describe('bits', () => {
  it('scales and zero points of a group are counted', () => {
    expect(bytesPerWeight({ weightBits: 4, groupSize: 32, scaleBits: 16 })).toBeCloseTo(4.5 / 8, 12)
    expect(bytesPerWeight({ weightBits: 4, groupSize: 64, scaleBits: 16, zeroPointBits: 4 })).toBeCloseTo((4 + 20 / 64) / 8, 12)
    expect(bytesPerWeight({ bytesPerWeight: 1.02 })).toBe(1.02)
  })
  it.each<[string, (plan: Plan) => void, RegExp]>([
    [
      'stated twice',
      (p) => Object.assign(p.models[0].variants[0], { bytesPerWeight: 2 }),
      /bytesPerWeight: must be left out: "weightBits" says it already/,
    ],
    [
      'not at all',
      (p) => delete p.models[0].variants[0].weightBits,
      /weightBits: is missing; a model of kind "dense" needs it or "bytesPerWeight"/,
    ],
    [
      'experts that can not be',
      (p) => p.models.push({ ...avocet, name: 'other', activeParameters: 1e9 } as Model),
      /activeParameters is 1000000000: it must be at least 10000000000/,
    ],
    [
      'a combination left out that is not there',
      (p) => Object.assign(p.services[0].search!, { without: [{ machine: 'nowhere' }] }),
      /without\[0\].machine is "nowhere"/,
    ],
  ])('%s is said', (_, change, words) => {
    const plan = structuredClone(skerrySound)
    change(plan)
    expect(() => checkPlan(plan)).toThrow(words)
  })
})
