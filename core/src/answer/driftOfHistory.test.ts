import { describe, expect, it } from 'vitest'
import { happened, withSteps } from '../../../examples/make/happened.ts'
import { oneConfiguration } from '../../../examples/make/oneConfiguration.ts'
import { guessRoles } from '../files/metrics/roles.ts'
import { readHistory } from '../files/metrics/readHistory.ts'
import { historyOf } from '../../test/historyOf.ts'
import { checkPlan } from '../plan/read.ts'
import type { Plan } from '../plan/schema.ts'
import { Load } from '../search/load.ts'
import { driftOfHistory, historyStart } from './driftOfHistory.ts'
import type { Drift } from './driftParts.ts'
import { describes, driftTable, driftWords } from './driftWords.ts'

const plan: Plan = checkPlan({ ...oneConfiguration, horizon: { ...oneConfiguration.horizon, seconds: 8 * 3600 } } as Plan)
const [service] = plan.services
function drift(csv: string): Drift {
  const { metrics } = readHistory([{ name: 'history.txt', text: historyOf(csv, plan) }])
  const roles = guessRoles(metrics)
  expect(roles).toMatchObject({ arrivals: 'requests_total', latency: 'duration_seconds' })
  expect(historyStart(metrics, roles)).toBe(Date.parse(plan.horizon.start) / 1000)
  return driftOfHistory(plan, service, { metrics, roles }, new Load(plan), 0.15)!
}
const plain = (words: readonly string[]) => words.join(' ').replaceAll(/\s/g, ' ')

describe('a metrics history beside the plan', () => {
  it('is as predicted where it does what the plan says, by means, hour by hour', () => {
    const found = drift(happened(plan, plan, 0))
    expect(found.pieces).toHaveLength(8)
    for (const p of found.pieces) expect(Math.abs(p.ratio - 1)).toBeLessThan(0.15)
    expect(found).toMatchObject({ average: 'mean', sinceSeconds: undefined, causes: [] })
    expect(describes(found)).toBe(true)
    expect(plain(driftWords(found, plan.horizon.start))).toMatch(
      /is as predicted: over [\d ]+ requests they take [\d.]+ times as long, in the mean\.$/,
    )
    expect(driftTable(found, plan.horizon.start).header).toContain('took, mean')
    expect(found.arrived.requests).toBeCloseTo(1, 1)
    expect(found.arrived.input).toBeCloseTo(1, 1)
  })

  it('drifts since the hour in which steps became dearer, and that explains it best', () => {
    const found = drift(happened(plan, withSteps(plan, 1.4), 5 * 3600))
    expect(found.sinceSeconds).toBe(5 * 3600)
    expect(found.causes[0].cause).toEqual({ kind: 'step costs', factor: expect.closeTo(1.4, 0.5) as number })
    expect(describes(found)).toBe(false)
  })

  it('takes a summary, which has no buckets, where it is said which one it is', () => {
    const text = historyOf(happened(plan, plan, 0), plan)
      .replaceAll(/^duration_seconds_bucket.*\n/gm, '')
      .replace('duration_seconds histogram', 'duration_seconds summary')
    const { metrics } = readHistory([{ name: 'h', text }])
    const roles = { ...guessRoles(metrics), latency: 'duration_seconds_sum' }
    const found = driftOfHistory(plan, service, { metrics, roles }, new Load(plan), 0.15)!
    expect(found.pieces).toEqual(drift(happened(plan, plan, 0)).pieces)
  })

  it('says what it lacks', () => {
    const { metrics } = readHistory([{ name: 'h', text: historyOf(happened(plan, plan, 0), plan) }])
    const of = (roles: Parameters<typeof driftOfHistory>[2]['roles']) => () =>
      driftOfHistory(plan, service, { metrics, roles }, new Load(plan), 0.15)
    expect(of({})).toThrow('say which with --metrics arrivals=NAME')
    expect(of({ arrivals: 'requests_total' })).toThrow('must be a histogram or a summary, whose sum and count say how long requests took')
    expect(of({ arrivals: 'requests_total', latency: 'answer_tokens_total' })).toThrow('must be a histogram or a summary')
  })
})
