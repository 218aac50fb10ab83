import { describe, expect, it } from 'vitest'
import { caller, sleeper } from '../../test/sleeper.ts'
import { enumerate } from '../candidate/enumerate.ts'
import { checkPlan } from '../plan/read.ts'
import type { Plan } from '../plan/schema.ts'
import { run } from '../run/run.ts'
import { Load } from '../search/load.ts'
import { wakeTimes, type Wake } from './wakeCalls.ts'

const plan = sleeper([caller('a', 36_000), caller('b', 122_000)], 'hold')
const waking = (wake: Wake): Plan =>
  checkPlan({ ...plan, services: [{ ...plan.services[0], policies: [{ ...plan.services[0].policies![0], wake }] }] })

function waits(of: Plan): number[] {
  const [candidate] = enumerate(of, of.services[0])
  const { record } = run(of, { service: candidate.service, candidate, groups: 1 }, new Load(of).of(of.services[0], 0), { toTheEnd: true })
  return [...record.start].map((s, i) => s - record.at[i])
}

describe('visitors who wake a service before they call', () => {
  it('spare the caller as much of the 150 s of a start-up as they come before', () => {
    expect(waits(plan)).toEqual([150, 150])
    expect(waits(waking({ leadSeconds: 100 }))).toEqual([50, 50])
    expect(waits(waking({ leadSeconds: 150 }))).toEqual([0, 0])
    expect(waits(waking({ leadSeconds: 700 }))).toEqual([0, 0]) // it is kept for 600 s from when it is ready
    expect(waits(waking({ leadSeconds: 800 }))).toEqual([55, 55]) // asleep again, on a machine that is there for 60 s more
    expect(waits(waking({ leadSeconds: 900 }))).toEqual([150, 150]) // and gone
  })

  it('come by the stated times, and the stated share of them never calls', () => {
    const at = Float64Array.from({ length: 20_000 }, (_, i) => 1e6 + 100 * i)
    const requests = { ...new Load(plan).all(0), count: at.length, at }
    expect([...wakeTimes({ leadSeconds: 20 }, requests, 1)]).toEqual([...at].map((t) => t - 20))
    const visits = wakeTimes({ leadSeconds: 20, leadP95Seconds: 60, neverShare: 0.6 }, requests, 1)
    expect(1 - at.length / visits.length).toBeCloseTo(0.6, 1)
    expect(visits).toEqual(Float64Array.from(visits).sort())
    expect(wakeTimes({ leadSeconds: 20, neverShare: 0.6 }, requests, 1)).not.toEqual(
      wakeTimes({ leadSeconds: 20, neverShare: 0.6 }, requests, 2),
    )
    const leads = wakeTimes(
      { leadSeconds: 20, leadP95Seconds: 60 },
      { ...requests, count: 5000, at: Float64Array.from({ length: 5000 }, () => 1e5) },
      3,
    )
    const share = (seconds: number) => leads.filter((t) => 1e5 - t <= seconds).length / leads.length
    expect(share(20)).toBeCloseTo(0.5, 1)
    expect(share(60)).toBeCloseTo(0.95, 1)
  })

  it('are refused where nothing ever sleeps', () => {
    const { idle: _, ...awake } = plan.services[0].policies![0]
    const policies = [{ ...awake, min: 1, schedule: [{ days: [1], from: '08:00', until: '09:00', min: 1 }], wake: { leadSeconds: 5 } }]
    expect(() => checkPlan({ ...plan, services: [{ ...plan.services[0], policies }] })).toThrow(/nobody to be woken/)
  })
})
