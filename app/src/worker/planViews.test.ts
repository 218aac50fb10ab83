import { checkPlan, type Plan } from '@sandclock/core'
import { describe, expect, it } from 'vitest'
import { demoPlan } from '../data/demo.ts'
import { Jobs } from './jobs.ts'
import { PlanViews } from './planViews.ts'
import type { RunName } from './heldRuns.ts'

/** The pilot desk of the demo for two hours of steady load. */
function twoHours(ratePerSecond: number): Plan {
  const [{ name: _, ...talk }] = demoPlan.services
  return checkPlan({
    ...demoPlan,
    name: 'two hours',
    repetitions: 1,
    horizon: { ...demoPlan.horizon, seconds: 7200, warmupSeconds: 600 },
    classes: [{ ...demoPlan.classes[0], arrivals: { kind: 'steady', ratePerSecond } }],
    services: [{ ...talk, name: demoPlan.services[0].name, policies: [], search: { sequences: [32], devices: [1] } }],
  })
}

const SECONDS = 7200
const plan = twoHours(0.8)
const service = plan.services[0].name
const machine = plan.machines.find((m) => m.name === 'Fenland twin')!
const name: RunName = {
  service,
  machines: 2,
  option: {
    machine: machine.name,
    provider: machine.provider,
    region: machine.region,
    variant: '8-bit',
    devices: 1,
    sequences: 32,
    policy: null,
    purchase: { kind: 'on-demand', safeShare: 1 },
    setting: null,
  },
}

describe('the views of a plan', () => {
  const views = new PlanViews(plan, undefined)

  it('draw the load, as many requests as its pieces have, and lay out what fits where for every service', () => {
    const { load, fits } = views.pictures(48)
    expect(load[0].count).toBeGreaterThan(SECONDS * 0.8 * 0.9)
    expect(Object.keys(fits)).toEqual(plan.services.map((s) => s.name))
    expect(fits[service].length).toBeGreaterThan(3)
  })

  it('say of a run what it says as a whole and piece by piece, and nothing of one that the plan does not have', () => {
    const run = views.timeline(name, 0, SECONDS, 24)
    expect(run).toMatchObject({ maxSequences: 32, lanes: 4, replicas: 4, reads: null })
    const figures = views.figures(name, 0, SECONDS)
    expect(figures?.run.classes.map((c) => c.className)).toEqual([plan.classes[0].name])
    const unknown = { ...name, option: { ...name.option, machine: 'nowhere' } }
    expect([
      views.timeline(unknown, 0, 1, 1),
      views.figures(unknown, 0, 1),
      views.ledger(unknown),
      views.pinned(unknown, 1),
      views.pull(unknown, []),
    ]).toEqual([undefined, undefined, undefined, undefined, undefined])
  })

  it('tell where the money goes: its parts are all of it, its shares are all of the classes', () => {
    const money = views.ledger(name)
    const perHour = views.pinned(name, 10)?.perHour ?? NaN
    expect(money?.ledger.total).toBeCloseTo((perHour * SECONDS) / 3600, 9)
    expect(money?.classes.reduce((sum, c) => sum + c.share, 0)).toBeCloseTo(1, 9)
  })

  it('go on with a job a step at a time until it is done, whatever is asked in between', () => {
    const job = views.pull(name, [])
    expect(job).toBeDefined()
    let [steps, done] = [0, false]
    while (!done && job !== undefined) {
      const step = views.advance(job)
      if (!step) break
      done = step.done
      steps++
      views.pictures(4)
    }
    expect(done).toBe(true)
    expect(steps).toBeGreaterThan(1)
    expect(views.advance(job ?? 0)).toBeUndefined()
  })
})

describe('jobs', () => {
  const counting = function* (to: number) {
    for (let i = 1; i < to; i++) yield { i }
    return { i: to }
  }

  it('are one of each kind: the next gives up the one before, also that of another plan', () => {
    const jobs = new Jobs()
    const first = jobs.begin('count', counting(3))
    expect(jobs.advance(first)).toEqual({ i: 1, done: false })
    const other = jobs.begin('other', counting(1))
    const second = jobs.begin('count', counting(2))
    expect(jobs.advance(first)).toBeUndefined()
    expect([jobs.advance(second), jobs.advance(second), jobs.advance(second)]).toEqual([
      { i: 1, done: false },
      { i: 2, done: true },
      undefined,
    ])
    expect(jobs.advance(other)).toEqual({ i: 1, done: true })
    const elsewhere = new Jobs()
    elsewhere.begin('count', counting(3))
    expect(elsewhere.advance(first)).toBeUndefined()
  })
})
