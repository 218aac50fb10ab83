import { describe, expect, it } from 'vitest'
import { skerrySound } from '../../../examples/make/skerrySound.ts'
import { checkPlan } from '../plan/read.ts'
import { Load } from '../search/load.ts'
import type { OneAsked } from './asked.ts'
import { oneRequest } from './oneRequest.ts'
import { planSwitchOff } from './planSwitchOff.ts'
import { session, type SessionAsked } from './session.ts'
import { branchRows, costAt, sessionWords } from './sessionWords.ts'

const plan = checkPlan(skerrySound)
const one: OneAsked = {
  service: 'pilot talk',
  machine: 'Fenland twin',
  variant: '8-bit',
  devices: 2,
  sequences: 16,
  finds: 'nothing',
  input: 600,
  output: 200,
  others: 0,
  keptSeconds: 0,
}
const asked: SessionAsked = { one, requests: 12, pauseSeconds: 120, beginsAtSeconds: 14 * 3600, idleSeconds: 1800, untilSeconds: 18 * 3600 }

describe('a session', () => {
  const found = session(plan, asked)
  const perHour = plan.machines.find((m) => m.name === 'Fenland twin')!.pricePerHour!
  const branch = (ending: string) => found.branches.find((b) => b.ending === ending)!

  it('takes its start-up, its requests and its pauses, and costs its machine meanwhile: by hand', () => {
    const [cold, warm] = [oneRequest(plan, one), oneRequest(plan, { ...one, finds: 'warm' })]
    expect(found.seconds).toBeCloseTo(cold.endSeconds + 11 * (120 + warm.endSeconds), 9)
    // By the minute that is begun.
    const step = plan.machines.find((m) => m.name === 'Fenland twin')!.billingStepSeconds!
    expect(step).toBe(60)
    expect(found.cost).toBeCloseTo((Math.ceil(found.seconds / 60) * 60 * perHour) / 3600, 9)
  })

  it('fans out at its end: each way of ending it has its own course, and what is left over', () => {
    const day = found.seconds + 86_400
    expect(costAt(branch('deleted'), day)).toBeCloseTo(found.cost, 9)
    expect(costAt(branch('idle'), day)).toBeCloseTo(found.cost + perHour / 2, 9)
    expect(costAt(branch('never'), day)).toBeCloseTo(found.cost + 24 * perHour, 9)
    // From 14 h on until 18 h, whole minutes.
    expect(costAt(branch('until'), day)).toBeCloseTo(4 * perHour, 9)
    const machine = plan.machines.find((m) => m.name === 'Fenland twin')!
    const bytes = plan.services[0].start!.imageBytes + plan.models[0].variants[1].diskBytes!
    expect(branch('stopped').perMonth).toBeCloseTo(((machine.storagePerGigabyteMonth ?? 0) * bytes) / 1e9, 6)
    expect(branchRows(found)).toHaveLength(5)
  })

  it('of a small load takes as long as it comes and is answered, and says how long callers waited', () => {
    const load = { perHour: 90, seconds: 7200 }
    const some = session(plan, { ...asked, load })
    expect(some.seen!.requests).toBeGreaterThan(120)
    expect(some.seen!.requests).toBeLessThan(240)
    expect(some.seconds).toBe(some.seen!.untilSeconds)
    expect(some.seconds - 7200).toBeLessThan(600)
    // Who comes to a ready replica alone is answered as the one request is.
    const [cold, warm] = [oneRequest(plan, one), oneRequest(plan, { ...one, finds: 'warm' })]
    expect(some.seen!.p50Seconds! / warm.endSeconds).toBeGreaterThan(0.99)
    expect(some.seen!.p50Seconds! / warm.endSeconds).toBeLessThan(1.2)
    const rare = session(plan, { ...asked, load: { perHour: 0.5, seconds: 7200 } })
    if (rare.seen!.requests > 0) expect(rare.seen!.p50Seconds).toBeLessThan(cold.endSeconds)
    expect(sessionWords(some)[0]).toMatch(
      /requests over 2\sh \(90\.0 an hour, as chance has it\), half of them answered within .+ and 95 of 100 within/,
    )
    expect(() => session(plan, { ...asked, load: { perHour: 0, seconds: 60 } })).toThrow(/rate is 0: it must be above 0/)
    expect(() => session(plan, { ...asked, load: { perHour: 1e6, seconds: 86_400 } })).toThrow(/begin a plan for more/)
  })

  it('leaves behind what stays when machines go, whatever becomes of them', () => {
    const fixedCosts = [
      { name: 'an address', perMonth: 3.6, stays: true },
      { name: 'a licence', perMonth: 90 },
      { name: 'a copy of the image', perMonth: 0.9, stays: true },
    ]
    const { branches } = session(checkPlan({ ...plan, fixedCosts }), asked)
    for (const b of branches) {
      const without = branch(b.ending)
      expect(b.left).toEqual([...without.left, 'an address', 'a copy of the image'])
      expect(b.perMonth - without.perMonth).toBeCloseTo(4.5, 9)
    }
  })

  it('says from when on forgetting costs more than it did', () => {
    const at = found.seconds + found.forgettingSeconds
    expect(costAt(branch('never'), at) - found.cost).toBeCloseTo(found.cost, 9)
  })

  it('never costs less the longer it is on', () => {
    for (const { course } of found.branches) {
      const costs = course.map((p) => p.cost)
      expect(costs).toEqual([...costs].sort((a, b) => a - b))
    }
  })
})

describe('when to switch off between the calls of a plan', () => {
  const { perHour } = session(plan, asked)
  const { calls, fairTimeoutSeconds, comeBack, startUpSeconds } = planSwitchOff(plan, new Load(plan), one, perHour, 0.5)

  it('is where staying costs what coming back does', () => {
    expect(comeBack).toBeCloseTo((startUpSeconds * perHour) / 3600 + 0.5, 9)
    expect((fairTimeoutSeconds * perHour) / 3600).toBeCloseTo(comeBack, 9)
  })

  it('has a course from a second to beyond the longest gap: fewer callers are cold, none at last, and none costs less than the best', () => {
    const course = calls!.course
    expect(course[0].timeoutSeconds).toBe(1)
    course.slice(1).forEach((c, i) => {
      expect(c.timeoutSeconds).toBeGreaterThan(course[i].timeoutSeconds)
      expect(c.cold).toBeLessThanOrEqual(course[i].cold)
    })
    expect(course.at(-1)!.cold).toBe(0)
    const best = calls!.best.cost
    expect(Math.min(...course.map((c) => c.cost))).toBeGreaterThanOrEqual(best * (1 - 1e-9))
    expect(best).toBeGreaterThanOrEqual(calls!.clairvoyantCost * (1 - 1e-9))
    expect(calls!.fair.cost).toBeLessThanOrEqual(2 * calls!.clairvoyantCost)
  })
})
