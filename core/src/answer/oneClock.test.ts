import { describe, expect, it } from 'vitest'
import { livingPlan } from '../../test/smallPlan.ts'
import { checkPlan } from '../plan/read.ts'
import { RandomStream } from '../random/stream.ts'
import { enumerate } from '../candidate/enumerate.ts'
import { Load } from '../search/load.ts'
import { Stage } from '../life/startRules.ts'
import { configured, simulateConfigured } from './configured.ts'

const EIGHT = Array.from({ length: 24 }, (_, h) => (h === 8 ? 1 : 0))

/** Ten minutes from 7:58 of a Monday at some offset from UTC: load from 8:00 on, and a window that raises the minimum from 8:00 to 8:04. */
function around(offset: string) {
  const plain = livingPlan(new RandomStream(8, 'one clock'), 0)
  const base = checkPlan({
    ...plain,
    repetitions: 1,
    horizon: { start: `2027-03-01T07:58:00${offset}`, seconds: 600, warmupSeconds: 0 },
    classes: plain.classes.map(({ turns: _, ...c }) => ({
      ...c,
      arrivals: { kind: 'weekly' as const, ratePerSecond: 1, days: [1, 0, 0, 0, 0, 0, 0], hours: EIGHT },
    })),
    services: plain.services.map((s) => ({
      ...s,
      losses: undefined,
      policies: [
        {
          name: 'morning',
          min: 1,
          max: 3,
          intervalSeconds: 5,
          down: { stabilisationSeconds: 0 },
          schedule: [{ days: [1], from: '08:00', until: '08:04', min: 3 }],
        },
      ],
    })),
  })
  const [service] = base.services
  const candidate = enumerate(base, service).find((c) => c.fit.fits && c.policy && c.maxGroups > 2)
  if (!candidate) throw new Error('some machine takes three')
  const { machine, variant, devices, sequences, group } = candidate
  const configuration = { machine: machine.name, variant: variant.name, devices, sequences, replicas: group.replicas, policy: 'morning' }
  const plan = checkPlan({ ...base, services: [{ ...service, configuration }] })
  const ready = configured(plan, plan.services[0], configuration)
  if (!ready.ok) throw new Error('it fits as a candidate')
  return simulateConfigured(plan, plan.services[0], configuration, new Load(plan), ready)
}

describe('one clock, that of the start of the horizon', () => {
  it.each(['Z', '+02:00', '-05:30'])('at %s load, schedule and what is printed agree', (offset) => {
    const { record, seen, happenings } = around(offset)
    const asked = seen?.observed.life?.events.filter((e) => e.stage === Stage.unplaced) ?? []
    expect(asked.map((e) => e.seconds)).toEqual([120, 120])
    expect(record.at.reduce((first, t) => Math.min(first, t), Infinity)).toBeGreaterThanOrEqual(120)
    expect(record.requests.count).toBeGreaterThan(100)
    expect(happenings.filter(({ words }) => words.startsWith('Mon 08:00:00') && words.includes('copy asked for'))).toHaveLength(2)
    expect(seen?.observed.life?.wanted.map((w) => [w.seconds, w.replicas])).toEqual([
      [0, 1],
      [120, 3],
      [360, 1],
    ])
  })
})
