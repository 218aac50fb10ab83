import { readFileSync } from 'node:fs'
import { describe, expect, it } from 'vitest'
import { skerrySound } from '../../../../examples/make/skerrySound.ts'
import { likelyAsked, likelyPlace } from '../likely.ts'
import { checkPlan } from '../../plan/read.ts'
import { oneRequest } from '../oneRequest.ts'
import { checkEstimate, shownOf, type Estimated } from './estimates.ts'
import { estimateWords } from './estimateWords.ts'

const [talk] = skerrySound.services
const place = { machine: 'Fenland twin', variant: '4-bit', devices: 2, sequences: 16 }
const asked = { ...likelyAsked(skerrySound, talk, place), finds: 'nothing' as const }
const said = (what: Estimated, value: number) => estimateWords(checkEstimate(skerrySound, asked, what, value), shownOf(what, 'EUR'))
const model = skerrySound.models[0]
if (!('layers' in model)) throw new Error('the first model of the demo is known by its shape')

describe('own estimates of a replica', () => {
  it('of memory are beside what adds up by hand: bits, scales, cache, working memory, reserve', () => {
    const variant = model.variants.find((v) => v.name === '4-bit')!
    const { terms, whole } = checkEstimate(skerrySound, asked, 'memory', 1e9)
    const value = (name: RegExp) => terms.find((t) => name.test(t.name))?.value
    expect(value(/^the weights/)).toBeCloseTo((model.parameters * variant.weightBits!) / 8, 0)
    const beside = (variant.scaleBits ?? 0) + (variant.zeroPointBits ?? 0)
    expect(value(/^scales/)).toBeCloseTo((model.parameters * beside) / variant.groupSize! / 8, 0)
    const perToken = 2 * model.layers * model.headSize * (variant.cacheBits! / 8) * Math.max(model.keyValueHeads, 2)
    expect(value(/^the cache/)).toBeCloseTo(16 * perToken * (asked.input + asked.output), 0)
    expect(value(/^the reserve/)).toBe(2 * skerrySound.assumptions.reserveBytesPerDevice)
    expect(whole).toBeCloseTo(
      terms.reduce((sum, t) => sum + t.value, 0),
      0,
    )
    expect(said('memory', whole / 2)).toContain('is of one of 2 devices')
  })

  it('of time are beside the parts of the request that One lays out', () => {
    const one = oneRequest(skerrySound, asked)
    expect(said('time', one.endSeconds)).toMatch(/ is right: /)
    expect(said('time', one.endSeconds / 60)).toContain('takes minutes for seconds')
    const machine = one.parts.find((p) => p.part === 'machine')!.seconds
    expect(said('time', one.endSeconds - machine)).toContain('leaves out the wait for a machine of 80.0\u00a0s')
  })

  it('of a month are beside the rent, the disk and what is paid beside machines', () => {
    const price = skerrySound.machines.find((m) => m.name === 'Fenland twin')!
    const rent = price.pricePerHour! * 730
    const { terms } = checkEstimate(skerrySound, asked, 'month', 1)
    expect(terms.find((t) => t.name.startsWith('the rent'))?.value).toBeCloseTo(rent, 9)
    expect(said('month', rent)).toContain('leaves out')
    expect(said('month', (rent * 168) / 730)).toContain('is of a week')
  })

  it('of what nothing is known are refused with a sentence', () => {
    const called = { ...skerrySound, machines: skerrySound.machines.map(({ pricePerHour: _, ...m }) => ({ ...m, pricePerRequest: 0.01 })) }
    expect(() => checkEstimate(called, asked, 'month', 5)).toThrow(/not for rent by the hour/)
    const alone = checkPlan(JSON.parse(readFileSync('examples/one-configuration.json', 'utf8')))
    const replica = likelyAsked(alone, alone.services[0], likelyPlace(alone, alone.services[0])!)
    expect(() => checkEstimate(alone, replica, 'memory', 5)).toThrow(/by their shape alone/)
    expect(checkEstimate(alone, replica, 'month', 1825).reading?.times).toEqual(['once'])
  })
})
