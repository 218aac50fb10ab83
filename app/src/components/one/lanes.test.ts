import { likelyAsked, likelyPlace, oneRequest } from '@sandclock/core'
import { expect, it } from 'vitest'
import { demoPlan } from '../../data/demo.ts'
import { clockLane, moneyLane, workLane } from './lanes.ts'

const [service] = demoPlan.services
const place = likelyPlace(demoPlan, service, { machine: 'Northquay cairn' })
if (!place) throw new Error('it fits there')
const one = oneRequest(demoPlan, { ...likelyAsked(demoPlan, service, place), finds: 'nothing' })

it('lays every scale out without gaps, to the figures that are said of the request', () => {
  const lanes = [clockLane('A', one), workLane('A', one), moneyLane('A', one)]
  const ends = [one.endSeconds, one.endSeconds - one.startUpSeconds, one.money.byHour?.amount ?? NaN]
  lanes.forEach((lane, i) => {
    let at = 0
    for (const bar of lane?.bars ?? []) {
      expect(bar.from).toBeCloseTo(at, 6)
      at = bar.until
    }
    expect(at).toBeCloseTo(ends[i], 6)
  })
  // What its start fetches is paid here, and is in it.
  expect(one.money.byHour?.transfer).toBeGreaterThan(0)
})

it('has a grain for each token, the last where the answer ends', () => {
  const { grains = [], bars } = workLane('A', one)
  expect(grains).toHaveLength(one.tokens.length)
  expect(grains.at(-1)).toBeCloseTo(bars.at(-1)?.until ?? NaN, 9)
})
