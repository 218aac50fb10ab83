import { describe, expect, it } from 'vitest'
import { happened, withSteps } from '../../../examples/make/happened.ts'
import { oneConfiguration } from '../../../examples/make/oneConfiguration.ts'
import { readRequestLog } from '../demand/log/readLog.ts'
import type { Plan } from '../plan/schema.ts'
import { checkPlan } from '../plan/read.ts'
import { Load } from '../search/load.ts'
import { driftOf } from './drift.ts'
import { describes, driftWords } from './driftWords.ts'

const plan: Plan = checkPlan({ ...oneConfiguration, horizon: { ...oneConfiguration.horizon, seconds: 8 * 3600, warmupSeconds: 0 } })
const [service] = plan.services
const START = '2027-03-01T00:00:00.000Z'
const plain = (words: string[]) => words.join(' ').replaceAll(/[\u00a0\u202f]/g, ' ')

const logFrom = (text: string) => readRequestLog([{ name: 'happened.csv', bytes: new TextEncoder().encode(text) }])
const drift = async (log: Awaited<ReturnType<typeof logFrom>>) => driftOf(plan, service, log, new Load(plan), 0.15)!

describe('a running service beside its plan', () => {
  it('is as predicted where it does what the plan says', async () => {
    const found = await drift(await logFrom(happened(plan, plan, 0)))
    expect(found.pieces).toHaveLength(8)
    // Times in a log have milliseconds.
    for (const p of found.pieces) expect(p.ratio).toBeCloseTo(1, 1)
    expect(found).toMatchObject({ sinceSeconds: undefined, causes: [] })
    expect(describes(found)).toBe(true)
    expect(plain(driftWords(found, START))).toMatch(
      /^talk is as predicted: over [\d ]+ requests they take (1|1\.00|0\.99\d) times as long, in the middle\.$/,
    )
  })

  it('drifts since the hour in which its steps became dearer, and that explains it best', async () => {
    const found = await drift(await logFrom(happened(plan, withSteps(plan, 1.4), 5 * 3600)))
    expect(found.sinceSeconds).toBe(5 * 3600)
    // Who is slower has more beside him, which makes him slower still.
    expect(found.ratio).toBeGreaterThan(1.4)
    expect(found.ratio).toBeLessThan(1.6)
    expect(found.causes[0].cause).toEqual({ kind: 'step costs', factor: 1.4 })
    expect(found.causes[0].left).toBeLessThan(0.1 * found.offNow)
    expect(describes(found)).toBe(false)
    expect(plain(driftWords(found, START))).toMatch(
      /^talk drifts since Mon 05:00: requests take 1\.[34]\d* times as long as predicted\. What explains it best is every step taking 1\.4 times as long as the plan says/,
    )
  })

  it('is explained by a replica that is missing, where one is', async () => {
    const busy: Plan = { ...plan, classes: plan.classes.map((c) => ({ ...c, arrivals: { kind: 'steady' as const, ratePerSecond: 6 } })) }
    const fewer: Plan = { ...plan, services: [{ ...service, configuration: { ...service.configuration!, replicas: 1 } }] }
    const found = await drift(await logFrom(happened(busy, fewer, 0)))
    expect(found.causes[0].cause).toEqual({ kind: 'fewer replicas', missing: 1 })
    expect(plain(driftWords(found, START))).toContain('one replica less than the plan states')
    // Thrice as many came as the plan says.
    expect(found.arrived.requests).toBeCloseTo(3, 0)
    expect(plain(driftWords(found, START))).toMatch(/(3|2\.9\d|3\.0\d) times as many requests come as the plan says\./)
  })

  it('is laid beside what the plan has in the same hours, whenever its log begins', async () => {
    const ratesPerSecond = Array.from({ length: 48 }, (_, h) => (h % 24 < 12 ? 0.2 : 1))
    const days: Plan = checkPlan({
      ...plan,
      horizon: { ...plan.horizon, seconds: 2 * 86_400 },
      classes: plan.classes.map((c) => ({ ...c, arrivals: { kind: 'hourly' as const, ratesPerSecond } })),
    })
    const all = happened(days, days, 0).split('\n')
    // Of the second day the afternoon alone, when five times as many come as in its morning.
    const afternoon = all.slice(1).filter((row) => row >= '2027-03-02T14' && row < '2027-03-02T20')
    const log = await logFrom([all[0], ...afternoon].join('\n'))
    const found = driftOf(days, service, log, new Load(days), 0.15)!
    expect(found.arrived.requests).toBeCloseTo(1, 1)
    expect(found.pieces[0].requests).toBeGreaterThan(500) // of ten minutes
    expect(found.ratio).toBeCloseTo(1, 1)
    expect(plain(driftWords(found, new Date(log.startSeconds * 1000).toISOString()))).toMatch(/^talk is as predicted/)
  })

  it('is not compared where nothing is known', async () => {
    const log = await logFrom(happened(plan, plan, 0))
    expect(
      driftOf(
        plan,
        service,
        { ...log, happened: { ...log.happened!, seconds: log.happened!.seconds.map(() => NaN) } },
        new Load(plan),
        0.15,
      ),
    ).toBeUndefined()
  })
})
