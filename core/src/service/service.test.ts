import { describe, expect, it } from 'vitest'
import { skerrySound } from '../../../examples/make/skerrySound.ts'
import { misfitSentence } from '../explain/misfitSentence.ts'
import { fit } from './fit.ts'
import { table } from './given.ts'
import { batchSeconds, decodeStepSeconds, prefillStepSeconds, type TokenProfile } from './profile.ts'

const plan = skerrySound
const [talk, , eyes] = plan.services
const model = (name: string) => plan.models.find((m) => m.name === name)!
const curlew = model('Curlew 14B')
const turnstone = model('Turnstone eye')
const machine = (name: string) => plan.machines.find((m) => m.name === name)!
const fitOf = (name: string, variant: number, devices: number) => fit(plan, talk, curlew, curlew.variants[variant], machine(name), devices)

function profile(name: string, variant: number, devices: number): TokenProfile {
  const fitting = fitOf(name, variant, devices)
  const made = fitting.fits ? fitting.profile({ sequences: 32 }) : undefined
  if (made?.kind !== 'token') throw new Error('expected a token profile')
  return made
}

/** Worked by hand from the rules for Curlew 14B, 16-bit, on Gabbro 48: 0.87 TB/s · 0.7 and 180 T/s · 0.45 a device. */
describe('a derived profile', () => {
  it('on one device', () => {
    const p = profile('Northquay ledge', 0, 1)
    expect(p.memorySeconds[1]).toBeCloseTo(28e9 / 609e9, 12)
    expect(p.arithmeticSeconds[10]).toBeCloseTo((10 * 28e9) / 81e12, 12)
    expect(p.cacheSecondsPerToken).toBeCloseTo(163_840 / 609e9, 18)
    expect(p.overheadSeconds[32]).toBe(0.003)
    expect(p.prefillSecondsPerTokenSquared).toBeCloseTo((2 * 40 * 5120) / 81e12, 18)
    // 48 GB · 0.9 − 28 GB − 0.8 GB − 1.2 GB = 13.2 GB
    expect(p.cacheTokens).toBe(Math.floor(13.2e9 / 163_840))
    expect(prefillStepSeconds(p, 1000, 1e6)).toBeCloseTo(0.003 + Math.max(28e9 / 609e9, 28e12 / 81e12) + 409.6e9 / 81e12, 12)
    expect(decodeStepSeconds(p, 2, 4000)).toBeCloseTo(28e9 / 609e9 + (4000 * 163_840) / 609e9 + 0.003, 12)
  })

  it('over two devices, with the exchange between them', () => {
    const p = profile('Fenland pair', 0, 2)
    expect(p.memorySeconds[1]).toBeCloseTo(28e9 / (2 * 609e9), 12)
    // Two exchanges a layer, each two hops and, of four tokens of 5,120 two-byte values, 2·(D − 1)/D.
    const exchange = 40 * 2 * (2 * 8e-6 + (4 * 5120 * 2 * 2 * (1 / 2)) / 30e9)
    expect(p.overheadSeconds[4]).toBeCloseTo(0.003 + exchange, 12)
    expect(p.cacheTokens).toBe(Math.floor((96e9 * 0.9 - 28e9 - 1.6e9 - 1.2e9) / 163_840))
  })
})

describe('what does not fit says why, with its figures', () => {
  const sentence = (name: string, variant: number, devices: number) => {
    const fitting = fitOf(name, variant, devices)
    return fitting.fits ? 'fits' : misfitSentence(fitting.misfit).replaceAll('\u00a0', ' ')
  }

  it.each([
    ['Northquay pebble', 0, 1, 'weights 28.0 GB, memory 24.0 GB; needs 2 devices'],
    ['Northquay pebble', 0, 2, 'a replica over 2 devices, the machine has 1 and no link to others is known'],
    ['Tarn plain', 1, 1, 'no 8-bit arithmetic: the device offers 16-bit'],
    ['Northquay cairn', 0, 2, 'fits'],
  ])('%s, variant %d, %d devices', (name, variant, devices, expected) => {
    expect(sentence(name, variant, devices)).toBe(expected)
  })

  it('weights that fit but leave no room', () => {
    const tight = { ...plan, assumptions: { ...plan.assumptions, memoryShare: 0.62 } }
    const fitting = fit(tight, talk, curlew, curlew.variants[1], machine('Northquay pebble'), 1)
    expect(fitting.fits ? '' : misfitSentence(fitting.misfit)).toMatch(/no room for a cache; needs 2 devices/)
  })
})

describe('a given profile', () => {
  it('is taken for the machine that it names, with the limits of the configuration', () => {
    const fitting = fit(plan, eyes, turnstone, turnstone.variants[0], machine('Northquay stack'), 1)
    const made = fitting.fits ? fitting.profile({ sequences: 4 }) : undefined
    expect(made).toEqual({
      kind: 'batch',
      source: 'given',
      baseSeconds: table(0.06, 4),
      secondsPerWorkUnit: table({ base: 0, perSequence: 0.0042 }, 4),
      maxBatch: 4,
      windowSeconds: 0.05,
    })
    if (made?.kind === 'batch') expect(batchSeconds(made, 3, 20)).toBeCloseTo(0.06 + 0.0042 * 60, 12)
  })

  it('tables come from a constant, a line or a list that goes on', () => {
    expect([...table(2, 3)]).toEqual([2, 2, 2, 2])
    expect([...table({ base: 1, perSequence: 0.5 }, 2)]).toEqual([1, 1.5, 2])
    expect([...table([5, 6], 4)]).toEqual([5, 5, 6, 6, 6])
  })
})
