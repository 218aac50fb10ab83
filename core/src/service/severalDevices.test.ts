import { describe, expect, it } from 'vitest'
import { rules } from '../../test/makeProfiles.ts'
import { makeRequests } from '../../test/makeRequests.ts'
import { smallPlan } from '../../test/smallPlan.ts'
import { simulate } from '../engine/simulate.ts'
import { misfitSentence } from '../explain/misfitSentence.ts'
import type { ExpertsModel, Machine, Model, Service, TokenModel } from '../plan/schema.ts'
import { RandomStream } from '../random/stream.ts'
import { enumerate } from '../candidate/enumerate.ts'
import { fit } from './fit.ts'
import { decodeStepSeconds, mixedStepSeconds, prefillStepSeconds, type TokenProfile } from './profile.ts'

const base = smallPlan(new RandomStream(1, 'several'), 1)
const plan = {
  ...base,
  assumptions: {
    ...base.assumptions,
    memoryEfficiency: 0.5,
    arithmeticEfficiency: 0.5,
    launchSeconds: 0.001,
    memoryShare: 1,
    reserveBytesPerDevice: 0,
  },
}
const [service] = plan.services
/** 40 layers of width 5,120: 40 query heads and 8 key-value heads of 128. */
const dense: TokenModel = {
  kind: 'dense',
  name: 'Curlew',
  parameters: 14e9,
  layers: 40,
  width: 5120,
  keyValueHeads: 8,
  headSize: 128,
  contextTokens: 8192,
  variants: [{ name: '16-bit', bytesPerWeight: 2, bytesPerCacheElement: 2, arithmeticBits: 16 }],
}
const experts: ExpertsModel = {
  ...dense,
  kind: 'experts',
  name: 'Avocet',
  parameters: 40e9,
  activeParameters: 10e9,
  experts: 8,
  expertsPerToken: 2,
}
/** Reaches 1 TB/s and 100 T/s a device. */
const machine: Machine = {
  name: 'quad',
  provider: 'Tarn',
  region: 'north',
  device: 'Gabbro 48',
  devices: 4,
  memoryBytesPerDevice: 48e9,
  bandwidthBytesPerSecond: 2e12,
  arithmeticPerSecond: { '16': 2e14 },
  linkBytesPerSecond: 16e9,
  hopSeconds: 5e-6,
  hostLinkBytesPerSecond: 4e9,
  hostHopSeconds: 2e-5,
  pricePerHour: 1,
  stock: 8,
}
const fitOf = (model: Model, devices: number, more: Partial<Service> = {}, on: Partial<Machine> = {}) =>
  fit(
    { ...plan, machines: [{ ...machine, ...on }] },
    { ...service, model: model.name, limits: {}, ...more },
    model,
    model.variants[0],
    { ...machine, ...on },
    devices,
  )
function profileOf(...of: Parameters<typeof fitOf>): TokenProfile {
  const fitting = fitOf(...of)
  const made = fitting.fits ? fitting.profile({ sequences: 32 }) : undefined
  if (made?.kind !== 'token') throw new Error('expected a token profile')
  return made
}

describe('exchange between devices', () => {
  it('is paid by prompts as well: the first token of an idle replica over four devices, worked by hand', () => {
    const p = profileOf(dense, 4)
    // Two exchanges in each of 40 layers: 2·2 hops of 5 µs, and 1.5 times 2,000 × 10,240 bytes over 16 GB/s.
    const exchange = 80 * (4 * 5e-6 + (1.5 * 2000 * 10_240) / 16e9)
    expect(exchange).toBeCloseTo(0.1552, 6)
    const first = 0.001 + Math.max(28e9 / 4e12, (28e9 * 2000) / 4e14) + exchange + (2 * 40 * 5120 * 2000 * 2000) / 4e14
    expect(prefillStepSeconds(p, 2000, 2000 * 2000)).toBeCloseTo(first, 9)
    const record = simulate(makeRequests([[0, 2000, 5]]), rules(1, { profile: p }))
    expect(record.firstToken[0]).toBeCloseTo(first, 9)
    expect(record.end[0]).toBeCloseTo(
      first + 4 * (0.001 + 28e9 / 4e12 + 80 * (4 * 5e-6 + (1.5 * 10_240) / 16e9)) + (163_840 / 4e12) * (2001 + 2002 + 2003 + 2004),
      9,
    )
  })

  it('depends on the link: 2 GB/s against 200', () => {
    const slow = profileOf(dense, 4, {}, { linkBytesPerSecond: 2e9 })
    const quick = profileOf(dense, 4, {}, { linkBytesPerSecond: 200e9 })
    expect(prefillStepSeconds(slow, 1000, 1e6) - prefillStepSeconds(quick, 1000, 1e6)).toBeCloseTo(
      80 * 1.5 * 10_240_000 * (1 / 2e9 - 1 / 200e9),
      9,
    )
  })

  it('is a tree inside a host and one between hosts, each with its own hops and link', () => {
    const p = profileOf({ ...dense, queryHeads: 64, keyValueHeads: 64, width: 5120 }, 16)
    const each = (bytes: number) => 2 * 2 * 5e-6 + (1.5 * bytes) / 16e9 + 2 * 2 * 2e-5 + (1.5 * bytes) / 4e9
    expect(p.overheadSeconds[8]).toBeCloseTo(0.001 + 80 * each(8 * 10_240), 12)
    expect(p.prefillBaseSeconds).toBeCloseTo(0.001 + 80 * each(0), 12)
    expect(p.prefillExchangeSecondsPerToken).toBeCloseTo(80 * (each(10_240) - each(0)), 15)
  })

  it('grows with the levels of the tree: 256 devices are eight of them, up and down', () => {
    const p = profileOf({ ...dense, queryHeads: 256, keyValueHeads: 256 }, 256, {}, { devices: 256, linkBytesPerSecond: 1e15 })
    expect(p.overheadSeconds[1]).toBeCloseTo(0.001 + 80 * 16 * 5e-6, 7)
  })

  it('is none on one device', () => {
    const p = profileOf(dense, 1)
    expect([p.overheadSeconds[9], p.prefillBaseSeconds, p.prefillExchangeSecondsPerToken]).toEqual([0.001, 0.001, 0])
  })
})

describe('heads', () => {
  const said = (...of: Parameters<typeof fitOf>) => {
    const fitting = fitOf(...of)
    return fitting.fits ? 'fits' : misfitSentence(fitting.misfit)
  }
  it.each<[string, TokenModel, number, string]>([
    ['8 heads over 8 devices', dense, 8, 'fits'],
    ['40 query heads over 16 devices', dense, 16, '40 query heads do not divide evenly over 16 devices'],
    ['8 heads kept twice by 16 devices', { ...dense, queryHeads: 64 }, 16, 'fits'],
    ['6 heads over 4 devices', { ...dense, queryHeads: 24, keyValueHeads: 6 }, 4, '6 key-value heads do not divide evenly over 4 devices'],
    ['6 heads over 8 devices', { ...dense, queryHeads: 24, keyValueHeads: 6 }, 8, '6 key-value heads do not divide evenly over 8 devices'],
    ['a compressed cache over 4 devices', { ...dense, queryHeads: 24, keyValueHeads: 6, cacheBytesPerToken: 70_000 }, 4, 'fits'],
  ])('%s', (_, model, devices, words) => expect(said(model, devices)).toBe(words))

  it('that are kept several times leave less room, and more is read of each token', () => {
    const many = { ...dense, queryHeads: 64 }
    const [eight, sixteen] = [fitOf(many, 8), fitOf(many, 16)]
    expect(eight.memory?.cacheBytesPerToken).toBe(2 * 40 * 128 * 2 * 8)
    expect(sixteen.memory?.cacheBytesPerToken).toBe(2 * 40 * 128 * 2 * 16)
    expect(sixteen.memory?.cacheTokens).toBe(Math.floor((16 * 48e9 - 28e9) / (2 * 40 * 128 * 2 * 16)))
    expect(profileOf(many, 16).cacheSecondsPerToken).toBeCloseTo((2 * 40 * 128 * 2 * 16) / 16e12, 18)
  })

  it('of a compressed cache are all on every device', () =>
    expect(fitOf({ ...dense, cacheBytesPerToken: 70_000 }, 4).memory?.cacheBytesPerToken).toBe(280_000))
})

describe('a replica over two machines, split by layers', () => {
  const p = profileOf(dense, 8, { split: 'layers' })

  it('costs what one host at a time costs, worked by hand', () => {
    // One host of four devices: 4 TB/s and 400 T/s. Of 8 sequences 4 are in work at a time.
    expect(p.memorySeconds[8]).toBeCloseTo(28e9 / 4e12, 12)
    expect(p.arithmeticSeconds[8]).toBeCloseTo((28e9 * 4) / 4e14, 12)
    expect(p.arithmeticSeconds[1]).toBeCloseTo(28e9 / 4e14, 12)
    expect(p.cacheSecondsPerToken).toBeCloseTo(163_840 / 8e12, 18)
    expect(p.overheadSeconds[8]).toBeCloseTo(0.001 + 80 * (4 * 5e-6 + (1.5 * 4 * 10_240) / 16e9) + 2e-5 + (4 * 10_240) / 4e9, 12)
    expect(p.prefillBaseSeconds).toBeCloseTo(0.001 + 80 * 4 * 5e-6 + 2e-5, 12)
    expect(p.prefillExchangeSecondsPerToken).toBeCloseTo((80 * 1.5 * 10_240) / 16e9 + 10_240 / 4e9, 15)
    expect(p.prefillMemorySeconds).toBeCloseTo(28e9 / 4e12, 12)
    expect(p.cacheTokens).toBe(Math.floor((8 * 48e9 - 28e9) / 163_840))
  })

  it('needs no link between hosts for every layer: by heads a slow one costs more', () => {
    const heads = profileOf(dense, 8, {}, { hostLinkBytesPerSecond: 0.1e9 })
    const layers = profileOf(dense, 8, { split: 'layers' }, { hostLinkBytesPerSecond: 0.1e9 })
    expect(decodeStepSeconds(heads, 16, 0)).toBeGreaterThan(2 * decodeStepSeconds(layers, 16, 0))
  })

  it('is tried by a search beside the other way, where a replica lies over several machines', () => {
    const tried = {
      ...plan,
      models: [dense],
      machines: [machine],
      services: [{ ...service, model: dense.name, limits: {}, search: { sequences: [8], devices: [4, 8], splits: ['layers' as const] } }],
    }
    expect(enumerate(tried, tried.services[0]).map((c) => [c.devices, c.setting])).toEqual([
      [4, null],
      [8, null],
      [8, { split: 'layers' }],
    ])
  })

  it('is not for layers that do not divide', () => {
    const fitting = fitOf({ ...dense, layers: 41 }, 8, { split: 'layers' })
    expect(fitting.fits ? '' : misfitSentence(fitting.misfit)).toBe('41 layers do not divide evenly over 2 machines')
  })
})

describe('chunks of prompts of a mixture of experts', () => {
  it('read the experts that their tokens hit, beside those of the decoding sequences', () => {
    const p = profileOf(experts, 4, { limits: { prompts: 'interleaved', stepTokens: 64 } })
    // Shared and all experts: (40 − 10)/(1 − 2/8) = 40 billion are experts, none is shared.
    const touched = (t: number) => 40e9 * (1 - 0.75 ** t)
    expect(mixedStepSeconds(p, 2, 0, 30, 0) - p.overheadSeconds[2]).toBeCloseTo(
      (touched(32) * 2) / 4e12 + p.prefillExchangeSecondsPerToken * 30,
      9,
    )
    expect(mixedStepSeconds(p, 0, 0, 3, 0) - p.overheadSeconds[1]).toBeCloseTo(
      (touched(3) * 2) / 4e12 + p.prefillExchangeSecondsPerToken * 3,
      9,
    )
    expect(mixedStepSeconds(p, 2, 0, 0, 0)).toBe(decodeStepSeconds(p, 2, 0))
    expect(profileOf(dense, 4, { limits: { prompts: 'interleaved' } }).mixedMemorySeconds).toBeUndefined()
  })
})
