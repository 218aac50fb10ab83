import { checkPlan, peak, rateCurve } from '@sandclock/core'
import { describe, expect, it } from 'vitest'
import { demoPlan } from '../data/demo.ts'
import {
  addTarget,
  basePeak,
  copyClass,
  copyService,
  editTarget,
  putClass,
  putPlan,
  putService,
  removeClass,
  removeService,
  removeTarget,
  renameClass,
  renameService,
  setPeak,
  setSpikes,
} from './edits.ts'

describe('edits', () => {
  it('scale the curve of a class to a new peak and keep its shape and spikes', () => {
    const before = demoPlan.classes[0]
    const plan = checkPlan(setPeak('pilot desk', 2 * basePeak(demoPlan, before))(demoPlan))
    const after = plan.classes[0]
    expect(basePeak(plan, after) / basePeak(demoPlan, before)).toBeCloseTo(2, 4)
    if (after.arrivals.kind !== 'hourly' || before.arrivals.kind !== 'hourly') throw new Error('expected hourly arrivals')
    expect(after.arrivals.ratesPerSecond[30] / before.arrivals.ratesPerSecond[30]).toBeCloseTo(2, 4)
    expect(after.arrivals.spikes).toEqual(before.arrivals.spikes)
    expect(demoPlan.classes[0]).toBe(before)
  })

  it('make a class without arrivals steady when it is given a rate', () => {
    const quiet = setPeak('hull watch', 0)(demoPlan)
    const plan = checkPlan(setPeak('hull watch', 3)(quiet))
    const { arrivals } = plan.classes[2]
    expect(
      arrivals.kind === 'log' || arrivals.kind === 'closed-loop' ? 0 : peak(rateCurve({ ...arrivals, spikes: [] }, 3600)).ratePerSecond,
    ).toBe(3)
  })

  it('change one target and one list of spikes', () => {
    const plan = checkPlan(
      setSpikes('hull watch', () => [])(editTarget('pilot desk', 0, (t) => (t.measure === 'ttft' ? { ...t, seconds: 1 } : t))(demoPlan)),
    )
    expect(plan.classes[0].targets[0]).toEqual({ measure: 'ttft', percentile: 95, seconds: 1, over: 'worst-hour' })
    expect(plan.classes[2].arrivals).toMatchObject({ spikes: [] })
  })

  it('rename classes and services with what points to them', () => {
    const plan = checkPlan(renameService('pilot talk', 'bridge')(renameClass('pilot desk', 'masters')(demoPlan)))
    expect(plan.classes[0]).toMatchObject({ name: 'masters', service: 'bridge' })
    expect(plan.services[0].name).toBe('bridge')
  })

  it('add a class like another under a free name, and take classes out with services that are left without', () => {
    const twice = checkPlan(copyClass('pilot desk')(copyClass('pilot desk')(demoPlan)))
    expect(twice.classes.map((c) => c.name)).toEqual([
      'pilot desk',
      'another pilot desk 2',
      'another pilot desk',
      'manifest reader',
      'hull watch',
    ])
    const fewer = checkPlan(removeClass('hull watch')(demoPlan))
    expect(fewer.services.map((s) => s.name)).toEqual(['pilot talk', 'manifest desk'])
  })

  it('add promises that the plan accepts, and take them back', () => {
    for (const measure of ['ttft', 'tpot', 'latency', 'wait', 'lost', 'throughput'] as const) {
      const plan = checkPlan(addTarget('pilot desk', measure)(demoPlan))
      expect(plan.classes[0].targets.at(-1)?.measure).toBe(measure)
      expect(removeTarget('pilot desk', 3)(plan)).toEqual(demoPlan)
    }
  })

  it('double a service with its classes, and take it out with them, but not the last', () => {
    const twice = checkPlan(copyService('pilot talk')(demoPlan))
    expect(twice.services.map((s) => s.name)).toEqual(['pilot talk', 'another pilot talk', 'manifest desk', 'hull eyes'])
    expect(twice.classes.at(-1)).toEqual({ ...demoPlan.classes[0], name: 'another pilot desk', service: 'another pilot talk' })
    expect(checkPlan(removeService('another pilot talk')(twice))).toEqual(demoPlan)
    const one = ['pilot talk', 'manifest desk', 'hull eyes'].reduce((plan, name) => removeService(name)(plan), demoPlan)
    expect(checkPlan(one).services.map((s) => s.name)).toEqual(['hull eyes'])
  })

  it('move a class to another service; one that no class is left for goes', () => {
    const twice = copyClass('pilot desk')(copyService('pilot talk')(demoPlan))
    const moved = (name: string) => putClass(name, { ...twice.classes.find((c) => c.name === name), service: 'another pilot talk' })
    const first = checkPlan(moved('pilot desk')(twice))
    expect(first.services.map((s) => s.name)).toContain('pilot talk')
    const both = checkPlan(moved('another pilot desk 2')(first))
    expect(both.services.map((s) => s.name)).toEqual(['another pilot talk', 'manifest desk', 'hull eyes'])
  })

  it('put parts together field by field', () => {
    expect(checkPlan(putService('pilot talk', { ...demoPlan.services[0], routing: 'two-choice' })(demoPlan)).services[0].routing).toBe(
      'two-choice',
    )
    expect(checkPlan(putPlan({ ...demoPlan, note: 'x' })(demoPlan)).note).toBe('x')
    expect(() => checkPlan(putPlan({ ...demoPlan, seed: 'x' })(demoPlan))).toThrow('seed')
  })
})
