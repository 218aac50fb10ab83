import { describe, expect, it } from 'vitest'
import { smallPlan } from '../../test/smallPlan.ts'
import { Load } from './load.ts'
import { holds } from '../measure/targets.ts'
import { measureOf } from '../measure/measures.ts'
import { Outcome } from '../engine/outcome.ts'
import type { RunRecord } from '../engine/record.ts'
import { checkPlan } from '../plan/read.ts'
import type { Plan, Target } from '../plan/schema.ts'
import { RandomStream } from '../random/stream.ts'
import { demandOf } from './demanded.ts'
import { hopeless } from './hopeless.ts'
import { enumerate } from '../candidate/enumerate.ts'
import { allHold, readings } from '../measure/placedTargets.ts'
import { run } from '../run/run.ts'
import { wholeRun } from '../run/wholeRun.ts'
import { profileOf } from '../candidate/candidate.ts'

/** Three hours with a rush in the second; the promise is read by the hour. */
function planOfHours(random: RandomStream, number: number): Plan {
  const plan = smallPlan(random, number)
  const [first] = plan.classes
  const percentile = random.next() < 0.5 ? 90 : 98
  const seconds = 0.1 + random.next()
  const rush = { startSeconds: 4000 + 2500 * random.next(), durationSeconds: 900, factor: 2 + 12 * random.next() }
  return checkPlan({
    ...plan,
    horizon: { ...plan.horizon, seconds: 3 * 3600 },
    classes: [
      {
        ...first,
        arrivals: { kind: 'steady', ratePerSecond: 0.02 + 0.3 * random.next(), spikes: [rush] },
        targets: [{ measure: 'ttft', percentile, seconds, over: 'worst-hour' }],
      },
    ],
  })
}

/** The promise as a person would check it by hand: every hour that has enough requests, one after another. */
function keptByHand(plan: Plan, record: RunRecord): { kept: boolean; worst: number | undefined } {
  const target = plan.classes[0].targets[0] as Extract<Target, { percentile: number }> // planOfHours promises a time
  const share = target.percentile / 100
  let worst: number | undefined
  for (let hour = 0; hour < 3; hour++) {
    const mine = [...Array(record.requests.count).keys()].filter(
      (i) => record.at[i] >= plan.horizon.warmupSeconds && Math.floor(record.at[i] / 3600) === hour,
    )
    if (mine.length < Math.round(1 / (1 - share))) continue
    const values = mine
      .flatMap((i) => {
        if (record.outcome[i] === Outcome.finished || record.firstToken[i] === record.firstToken[i]) return [measureOf(record, i, 'ttft')]
        if (record.outcome[i] !== Outcome.unfinished) return [Infinity]
        return record.endSeconds - record.at[i] > target.seconds * (1 - plan.margin) ? [Infinity] : []
      })
      .sort((a, b) => a - b)
    if (values.length === 0) continue
    const value = values[Math.max(0, Math.ceil(share * values.length - 1e-9) - 1)]
    worst = Math.max(worst ?? 0, value)
  }
  return { kept: worst === undefined || worst <= target.seconds * (1 - plan.margin), worst }
}

describe('a promise for the worst hour', () => {
  it('is judged as by hand, stopped early only when it is broken, and ruled out by bounds only when it is', { timeout: 120_000 }, () => {
    const random = new RandomStream(77, 'hours')
    const seen = { kept: 0, broken: 0, stopped: 0, hopeless: 0, overallWouldHold: 0 }
    for (let n = 0; n < 100; n++) {
      const plan = planOfHours(random, n)
      const [service] = plan.services
      const requests = new Load(plan, undefined).of(service, 0)
      for (const candidate of enumerate(plan, service)
        .filter((c) => c.fit.fits && c.policy === null)
        .slice(0, 3)) {
        const spec = { service, candidate, groups: 1 }
        const whole = wholeRun(plan, spec, requests)
        const byHand = keptByHand(plan, whole.record)
        const [reading] = readings(plan, service, whole.record)
        expect(whole.holds).toBe(byHand.kept)
        expect(reading.value).toBe(byHand.worst)
        expect(holds(reading, plan.classes[0].targets[0], plan.margin)).toBe(byHand.kept)
        const early = run(plan, spec, requests)
        expect(early.kind === 'complete' && allHold(plan, service, readings(plan, service, early.record))).toBe(byHand.kept)
        if (early.kind === 'broken') expect(early.considered).toBeGreaterThanOrEqual(early.misses)
        seen[byHand.kept ? 'kept' : 'broken']++
        if (early.kind === 'broken') seen.stopped++
        if (hopeless(demandOf(plan, service, requests), profileOf(candidate))) {
          seen.hopeless++
          expect(byHand.kept).toBe(false)
        }
        const [target] = plan.classes[0].targets
        const overall = { ...plan, classes: [{ ...plan.classes[0], targets: [{ ...target, over: 'all' as const } as Target] }] }
        if (!byHand.kept && wholeRun(overall, spec, requests).holds) seen.overallWouldHold++
      }
    }
    expect(seen.kept).toBeGreaterThan(10)
    expect(seen.stopped).toBeGreaterThan(10)
    expect(seen.hopeless).toBeGreaterThan(1)
    expect(seen.overallWouldHold).toBeGreaterThan(3)
  })
})
