import { describe, expect, it } from 'vitest'
import { caller, sleeper } from '../../test/sleeper.ts'
import { livingPlan } from '../../test/smallPlan.ts'
import { enumerate } from '../candidate/enumerate.ts'
import { isByCall } from '../cost/purchase.ts'
import { callersWords, unpromisedLosses } from '../explain/callersWords.ts'
import { Outcome } from '../engine/outcome.ts'
import { Stage, type LifeRecord } from '../life/startRules.ts'
import type { Plan } from '../plan/schema.ts'
import { RandomStream } from '../random/stream.ts'
import { coldTimeOf } from '../run/coldTimeOf.ts'
import { run } from '../run/run.ts'
import { Load } from '../search/load.ts'
import { callersMet, coldCallers } from './callersMet.ts'
import { COLD_STAGES, ColdTime } from './coldTime.ts'
import { countOutcomes } from './counts.ts'
import { summarise, countedSelection } from './summary.ts'

function metBy(plan: Plan) {
  const [service] = plan.services
  const [candidate] = enumerate(plan, service)
  const spec = { service: candidate.service, candidate, groups: 1 }
  const ran = run(plan, spec, new Load(plan).of(service, 0), { toTheEnd: true })
  const cold = coldTimeOf(plan, spec, ran)
  return { ran, met: plan.classes.map((c, i) => callersMet(plan, ran.record, cold, i, c.name)) }
}

describe('what callers met', () => {
  it('is reckoned by hand: who wakes a service waits 150 s, most of it for the machine, who calls within 600 s of it finds it ready', () => {
    const plan = sleeper([caller('first', 3600), caller('second', 3700), caller('third', 4300), caller('night', 90_000)], 'hold')
    const [first, second, third, night] = metBy(plan).met
    const met = { callers: 1, first: 3600, last: 3600, longestSeconds: 150, medianSeconds: 150, stage: 'machine' }
    expect(first.cold).toEqual([met])
    // A hundred seconds later half of the way is gone: 30 s are weights and 20 s the warm-up; and it waits for the first, which takes 1 s.
    expect(second.cold).toEqual([{ ...met, first: 3700, last: 3700, longestSeconds: 51, medianSeconds: 51, stage: 'weights' }])
    expect([third.warm.callers, third.warm.longestSeconds, coldCallers(third)]).toEqual([1, 0, 0])
    expect(night.cold).toEqual([{ ...met, first: 90_000, last: 90_000 }])
    expect(night.overTime.cold.findIndex((n) => n === 1)).toBe(25)
    expect(callersWords(plan, [night])).toEqual([
      'night: 0 of 1 caller found a ready replica; 1 caller waited for the machine, at the longest 2\u00a0min 30\u00a0s (Tue 01:00)',
    ])
  })

  it('tells who is turned away asleep, and who gives up on the way', () => {
    const refusing = metBy(sleeper([caller('first', 3600), caller('second', 3800)], 'refuse')).met
    expect(refusing[0].refused).toEqual({
      ...{ callers: 1, longestSeconds: 0, first: 3600, last: 3600 },
      ...{ asleep: 1, queueFull: 0, rateLimited: 0, tooLarge: 0 },
    })
    expect(refusing[1].warm.callers).toBe(1)
    const impatient = metBy(sleeper([caller('first', 3600)], 'hold', 100)).met
    expect(impatient[0].gaveUp).toEqual({ callers: 1, longestSeconds: 100, first: 3600, last: 3600, cold: 1 })
  })

  it('puts every caller into one group, with the counts of outcomes, and splits waits as a walk over all events does', () => {
    const random = new RandomStream(4, 'met')
    const seen = { cold: 0, byCall: 0, refused: 0, gaveUp: 0 }
    for (let n = 0; n < 12; n++) {
      const plan = livingPlan(random, n)
      const [service] = plan.services
      for (const candidate of enumerate(plan, service)
        .filter((c) => c.fit.fits && c.maxGroups > 0 && c.paysByRun)
        .slice(0, 3)) {
        const spec = { service: candidate.service, candidate, groups: candidate.elastic ? candidate.maxGroups : 1 }
        const ran = run(plan, spec, new Load(plan).of(service, 0), { toTheEnd: true })
        const cold = coldTimeOf(plan, spec, ran)
        const met = callersMet(plan, ran.record, cold, -1, 'all')
        const counts = countOutcomes(ran.record, countedSelection(plan, -1))
        expect(met.arrivals).toBe(counts.arrivals)
        expect([met.refused.callers, met.gaveUp.callers, met.failed.callers]).toEqual([counts.rejected, counts.abandoned, counts.failed])
        const sum = (counts: readonly number[]) => counts.reduce((a, b) => a + b, 0)
        expect(sum(met.overTime.cold)).toBe(sum(met.cold.map((c) => c.callers)))
        expect(sum(met.overTime.foundCold)).toBe(coldCallers(met))
        const byCall = isByCall(candidate.purchase)
        if (ran.life) {
          const { record } = ran
          for (let i = 0; i < record.requests.count; i += 7) {
            if (record.outcome[i] !== Outcome.finished) continue
            const byStage = new Float64Array(COLD_STAGES.length)
            const all = cold.add(record.at[i], record.start[i], byStage)
            const walked = walk(ran.life, byCall, record.at[i], record.start[i])
            byStage.forEach((s, k) => expect(s).toBeCloseTo(walked[k], 6))
            expect(all).toBeLessThanOrEqual(record.start[i] - record.at[i] + 1e-6)
          }
        }
        seen.cold += coldCallers(met)
        seen.byCall += byCall ? 1 : 0
        seen.refused += met.refused.callers
        seen.gaveUp += met.gaveUp.callers
      }
    }
    for (const n of [seen.cold, seen.refused + seen.gaveUp]) expect(n).toBeGreaterThan(10)
  })

  it('of replicas that are ready from one moment on are cold until then', () => {
    const byStage = new Float64Array(COLD_STAGES.length)
    expect(ColdTime.readyFrom(40).add(10, 100, byStage)).toBe(30)
    expect(byStage[COLD_STAGES.indexOf('start-up')]).toBe(30)
    expect(ColdTime.readyFrom(0).add(0, 100, byStage)).toBe(0)
  })
})

/** The same by looking at every stretch between two events. */
function walk({ events }: LifeRecord, byCall: boolean, from: number, until: number): Float64Array {
  const out = new Float64Array(COLD_STAGES.length)
  const stages = new Map<number, number>()
  const stageOf = () => {
    const on = [...stages.values()].filter((s) => s !== Stage.none && s !== Stage.draining)
    const coming = on.filter((s) => s !== Stage.ready).sort((a, b) => b - a)
    if (!byCall && on.includes(Stage.ready)) return -1
    return coming.length > 0 ? coming[0] - 1 : byCall ? -1 : 0
  }
  let last = 0
  for (const { replica, stage, seconds } of [...events, { replica: -1, stage: Stage.none, seconds: Infinity }]) {
    const s = stageOf()
    if (s >= 0) out[s] += Math.max(0, Math.min(until, seconds) - Math.max(from, last))
    stages.set(replica, stage)
    last = seconds
  }
  return out
}

describe('losses of which nothing is promised', () => {
  it('are said with their share, and those with a promise are not', () => {
    const plan = sleeper([caller('first', 3600)], 'refuse')
    const { ran } = metBy(plan)
    const classes = [summarise(plan, ran.record, 0)]
    expect(unpromisedLosses(plan, classes)).toEqual([
      'It loses 100\u00a0% of the callers of first (1 of 1 are turned away, give up or fail), and nothing is promised about losses',
    ])
    const promising = { ...plan, classes: plan.classes.map((c) => ({ ...c, targets: [{ measure: 'lost' as const, share: 0.5 }] })) }
    expect(unpromisedLosses(promising, classes)).toEqual([])
  })
})
