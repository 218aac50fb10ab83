import { describe, expect, it } from 'vitest'
import { livingFleet, scripted } from '../../test/fleets.ts'
import { batchProfile, rules } from '../../test/makeProfiles.ts'
import { makeRequests } from '../../test/makeRequests.ts'
import { simulate } from '../engine/simulate.ts'
import { fleetWords } from '../explain/fleetWords.ts'
import { happenings } from '../explain/lifeWords.ts'
import { Stage } from '../life/startRules.ts'
import { fleetPicture, servingSeconds, valueAt } from './fleetPicture.ts'

const fleet = livingFleet({
  controller: scripted([
    [0, 1],
    [300, 3],
    [600, 1],
  ]),
  nodes: { mostNodes: 2 },
})
simulate(makeRequests([]), rules(1, { profile: batchProfile(), horizonSeconds: 1000, life: () => fleet }))
const plain = (s: string) => s.replaceAll(/[\u00a0\u202f]/g, ' ')

describe('the picture of a fleet', () => {
  const picture = fleetPicture(fleet.record, 1000)
  it('has spans that follow one another, and counts what is wanted, ready, without room and paid', () => {
    expect(picture.replicas).toBe(3)
    const first = picture.spans.filter((s) => s.replica === 0)
    expect(first.map((s) => s.stage)).toEqual([Stage.machine, Stage.image, Stage.weights, Stage.load, Stage.warmup, Stage.ready])
    for (let i = 1; i < first.length; i++) expect(first[i].from).toBe(first[i - 1].until)
    expect([0, 200, 299, 460, 700].map((t) => valueAt(picture.ready, t))).toEqual([0, 1, 1, 2, 1])
    expect([100, 400, 700].map((t) => valueAt(picture.wanted, t))).toEqual([1, 3, 1])
    expect([100, 400, 700].map((t) => valueAt(picture.unplaced, t))).toEqual([0, 1, 0])
    expect([50, 400, 900].map((t) => valueAt(picture.machines, t))).toEqual([1, 2, 1])
    expect(valueAt({ seconds: [5], values: [2] }, 3)).toBe(0)
  })

  it('serves in the time from readiness to the end, which busy time is a share of', () => {
    // Ready at 150, and a second one from 450 to 600 (drained at once).
    expect(servingSeconds(fleet.record, 0, 1000, 1000)).toBeCloseTo(850 + 150, 6)
    expect(servingSeconds(fleet.record, 400, 500, 1000)).toBeCloseTo(100 + 50, 6)
    expect(servingSeconds(fleet.record, 0, 100, 1000)).toBe(0)
  })

  it('is told in words: who was asked for, why, when it was ready and what took longest', () => {
    const told = happenings(
      fleet.record,
      { startIso: '2027-03-01T09:00:00Z', limitedBy: 'stock', late: (from, until) => Math.round(until - from) },
      0,
      1000,
    ).map((h) => plain(h.words))
    expect(told[0]).toBe(
      'Mon 09:00:00 first copy asked for (the start); ready 09:02:30, after 2 min 30 s, most of it the machine (100 s); 150 requests were late meanwhile',
    )
    expect(told[1]).toMatch(/^Mon 09:05:00 second copy asked for \(the schedule\); ready 09:07:30/)
    expect(told[2]).toMatch(/^Mon 09:05:00 a copy asked for \(the schedule\) and given up 09:10:00 before it was ready: fewer are wanted/)
    expect(told.at(-1)).toMatch(/a copy is gone/)
    expect(happenings(fleet.record, { startIso: '2027-03-01T09:00:00Z', limitedBy: 'stock' }, 0, 200)).toHaveLength(1)
  })

  it('a choice is a number of machines, or up to a number', () => {
    expect(fleetWords({ machines: 2, machine: 'ledge', policy: null })).toBe('2 × ledge')
    expect(fleetWords({ machines: 6, machine: 'ledge', policy: 'follows', meanMachines: 1.234 })).toBe('up to 6 × ledge (1.23 on average)')
  })
})
