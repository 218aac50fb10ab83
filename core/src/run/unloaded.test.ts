import { describe, expect, it } from 'vitest'
import { caller, sleeper } from '../../test/sleeper.ts'
import { statedCandidate } from '../candidate/named.ts'
import { checkPlan } from '../plan/read.ts'
import { Load } from '../search/load.ts'
import { wholeRun } from './wholeRun.ts'

describe('a service that unloads its model when nobody calls', () => {
  const ran = (nodes: object) => {
    const base = sleeper([caller('first', 0), caller('second', 7200)], 'hold')
    const plan = checkPlan({ ...base, services: base.services.map((s) => ({ ...s, nodes })) })
    const [service] = plan.services
    const candidate = statedCandidate(plan, service, service.configuration!)!
    const run = wholeRun(plan, { service: candidate.service, candidate, groups: candidate.maxGroups }, new Load(plan).of(service, 0))
    return { waits: [...run.record.start].map((t, i) => Number((t - run.record.at[i]).toFixed(6))), perHour: run.perHour }
  }

  it('spares its second caller all but the loading, and pays for the machine all the while: by hand', () => {
    // From nothing 80 + 15 + 30 + 5 + 20; unloaded, 5 + 20. A machine of 1 EUR an hour, from the first call to the end.
    const unloaded = ran({ whenIdle: 'unload' })
    expect(unloaded.waits).toEqual([150, 25])
    expect(unloaded.perHour).toBeCloseTo(1, 6)
    const given = ran({ whenIdle: 'give-back', idleSeconds: 60 })
    expect(given.waits).toEqual([150, 150])
    // Both times 150 s, 1 s of service, 600 s until it sleeps, 60 s until it is given back.
    expect(given.perHour).toBeCloseTo((2 * (150 + 1 + 600 + 60)) / 3600 / (7 * 24), 6)
  })
})
