import type { Answer } from '@sandclock/core'
import { describe, expect, it } from 'vitest'
import { keyOf } from '../composables/useRunChoices.ts'
import { linesOf } from '../search/pieces.ts'
import { readKeptAnswer, readKeptFrontiers, readKeptPins } from './kept.ts'

const paid = { kind: 'on-demand', safeShare: 1 }
const shown = { machine: 'm', variant: 'v', purchase: paid, money: { perMonth: 1 }, targets: [] }
const answer = {
  format: 'sand-clock-answer',
  version: 2,
  coreVersion: '1',
  currency: 'EUR',
  perMonth: 1,
  meets: true,
  money: { shared: [], fixed: [] },
  plan: { services: [] },
  services: [{ service: 's', chosen: shown, runnersUp: [], rejected: [], met: [] }],
}

describe('what is kept is read through a schema', () => {
  it('an answer, whole, or nothing', async () => {
    expect(await readKeptAnswer({ ...answer, more: 1 })).toEqual({ ...answer, more: 1 })
    for (const broken of [
      null,
      undefined,
      3,
      'x',
      [],
      {},
      { ...answer, services: null },
      { ...answer, services: [null] },
      { ...answer, services: [{ ...answer.services[0], chosen: {} }] },
    ])
      expect(await readKeptAnswer(broken)).toBeUndefined()
  })

  it('an answer in lines, each with what is its own, or nothing', async () => {
    const passedOver = Array.from({ length: 600 }, (_, i) => ({ purchase: paid, reason: `no ${i}` }))
    const two = { ...answer, services: [answer.services[0], { ...answer.services[0], rejected: passedOver }] }
    const lines = linesOf(two as unknown as Answer)
    expect(lines).toHaveLength(4)
    expect(await readKeptAnswer(lines)).toEqual(two)
    for (const broken of ['', '{', 'null', '{"service":-1,"rejected":[]}', '{"service":1,"rejected":[{"reason":"no"}]}'])
      for (const place of [0, 3]) expect(await readKeptAnswer(lines.toSpliced(place, 1, broken))).toBeUndefined()
  })

  it('points around an answer, or none: they are simulated anew', () => {
    const point = { machine: 'm', purchase: paid, machines: 2, perHour: 3, strain: null, tightest: 0, value: null, holds: false }
    expect(readKeptFrontiers({ s: [point] })).toEqual({ s: [point] })
    for (const broken of [
      undefined,
      null,
      [],
      'x',
      { s: 3 },
      { s: [{ ...point, perHour: '3' }] },
      { s: [{ ...point, purchase: undefined }] },
    ])
      expect(readKeptFrontiers(broken)).toEqual({})
  })

  it('pins, those that can be read; the others are told apart', () => {
    const name = {
      service: 's',
      machines: 1,
      option: {
        machine: 'm',
        provider: 'p',
        region: 'r',
        variant: 'v',
        devices: 1,
        sequences: 8,
        purchase: { kind: 'on-demand', safeShare: 1 } as const,
        policy: null,
        setting: null,
      },
    }
    const pin = { key: keyOf(name), words: 'w', reason: '', name }
    expect(readKeptPins(JSON.stringify({ 'a s': [pin, null, { key: 1 }] }))).toEqual({ pins: { 'a s': [pin] }, broken: [null, { key: 1 }] })
    expect(readKeptPins('{')).toEqual({ pins: {}, broken: ['{'] })
    expect(readKeptPins('[1]')).toEqual({ pins: {}, broken: [[1]] })
  })
})
