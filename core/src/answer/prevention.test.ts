import { describe, expect, it } from 'vitest'
import { livingPlan } from '../../test/smallPlan.ts'
import { Outcome } from '../engine/outcome.ts'
import type { RunRecord } from '../engine/record.ts'
import { badMoments } from '../measure/badMoments.ts'
import { measureOf } from '../measure/measures.ts'
import { checkPlan } from '../plan/read.ts'
import type { Plan } from '../plan/schema.ts'
import { RandomStream } from '../random/stream.ts'
import { altered } from '../run/alteration.ts'
import { alteredService, type Alteration } from '../run/alteredService.ts'
import type { RunSpec } from '../run/spec.ts'
import { enumerate } from '../candidate/enumerate.ts'
import { Load } from '../search/load.ts'
import { targetsOf } from '../measure/placedTargets.ts'
import { wholeRun } from '../run/wholeRun.ts'
import { preventions, type Moment, type Prevention } from './prevention.ts'

const simulated = (plan: Plan, spec: RunSpec, load: Load) => wholeRun(plan, spec, load.of(spec.service, 0))

/** Whether every promise was kept by those who came in the moment, told request by request. */
function keptByHand(plan: Plan, record: RunRecord, { fromSeconds, untilSeconds }: Moment): boolean {
  return targetsOf(plan, plan.services[0]).every(({ classIndex, target }) => {
    const mine = [...Array(record.requests.count).keys()].filter(
      (i) => record.requests.classIndex[i] === classIndex && record.at[i] >= fromSeconds && record.at[i] < untilSeconds,
    )
    if (target.measure === 'throughput') return true
    if (target.measure === 'lost') {
      const ended = mine.filter((i) => record.outcome[i] !== Outcome.unfinished)
      return ended.filter((i) => record.outcome[i] !== Outcome.finished).length <= target.share * ended.length + 1e-9
    }
    const values = mine.flatMap((i) => {
      if (record.outcome[i] !== Outcome.finished && record.outcome[i] !== Outcome.unfinished) return [Infinity]
      const value = measureOf(record, i, target.measure)
      if (value === value) return [value]
      return record.outcome[i] === Outcome.unfinished && target.measure !== 'tpot' && record.endSeconds - record.at[i] > target.seconds
        ? [Infinity]
        : []
    })
    return values.filter((v) => v > target.seconds).length <= values.length - Math.ceil((target.percentile / 100) * values.length - 1e-9)
  })
}

/** The rung below on the ladder of whole numbers that a change stands on, if it stands on one. */
function milder(alteration: Alteration): Alteration | undefined {
  if (alteration.kind === 'policy' && alteration.part === 'min')
    return { ...alteration, policy: { ...alteration.policy, min: alteration.policy.min - 1 } }
  if (alteration.kind === 'fixed' && alteration.groups > 1) return { ...alteration, groups: alteration.groups - 1 }
  return undefined
}

/** Room to grow into, and a promise that growing can keep. */
function generous(plan: Plan): Plan {
  const [first] = plan.classes
  const [service] = plan.services
  return {
    ...plan,
    machines: plan.machines.map((m) => ({ ...m, stock: 12 })),
    classes: [{ ...first, targets: [{ measure: 'ttft', percentile: 90, seconds: 1 }] }],
    services: [{ ...service, policies: (service.policies ?? []).map((p) => ({ ...p, max: 8 })) }],
  }
}

const last = (all: Iterable<{ found: Prevention[] }>) => [...all].at(-1)?.found ?? []

describe('what would have prevented a bad moment', () => {
  it('is simulated truly, the mildest of its kind, a plan that can be read, cheapest first', { timeout: 180_000 }, () => {
    const random = new RandomStream(41, 'prevention')
    const seen = { prevents: 0, fails: 0, milder: 0, cheaper: 0 }
    for (let n = 0; n < 40; n++) {
      const plan = checkPlan(generous(livingPlan(random, n)))
      const [service] = plan.services
      const load = new Load(plan, undefined)
      const candidate = enumerate(plan, service).find((c) => c.fit.fits && c.policy?.name === 'in flight' && c.maxGroups > 1)
      if (!candidate) continue
      const spec: RunSpec = { service, candidate, groups: candidate.maxGroups }
      const run = simulated(plan, spec, load)
      const moment = { fromSeconds: 140, untilSeconds: 200 }
      if (keptByHand(plan, run.record, moment)) continue
      const found = last(preventions(plan, spec, load, run, moment))
      const order = found.filter((f) => f.prevents && f.holds).map((f) => f.perHour)
      expect(order).toEqual([...order].sort((a, b) => a - b))
      for (const { alteration, prevents, words } of found) {
        const next = altered(plan, spec, alteration)
        if (!next) throw new Error(`${words} was tried but is no run`)
        expect(keptByHand(plan, simulated(plan, next, load).record, moment), words).toBe(prevents)
        expect(words).not.toMatch(/undefined|NaN/)
        checkPlan({ ...plan, services: [alteredService(service, candidate.policy?.name ?? null, alteration)] })
        seen[prevents ? 'prevents' : 'fails']++
        const less = prevents ? milder(alteration) : undefined
        const below = less && altered(plan, spec, less)
        if (!below || (less.kind === 'policy' && less.policy.min === candidate.policy?.min)) continue
        seen.milder++
        expect(keptByHand(plan, simulated(plan, below, load).record, moment), `less than ${words}`).toBe(false)
      }
    }
    expect(seen.prevents).toBeGreaterThan(15)
    expect(seen.fails).toBeGreaterThan(15)
    expect(seen.milder).toBeGreaterThan(3)
  })
})

describe('bad moments', () => {
  it('are the stretches in which more were late than was promised, worst first', () => {
    const at = [10, 20, 30, 700, 710, 2000, 2010, 2400, 2410, 2420, 5000]
    const took = [1, 1, 1, 5, 1, 5, 5, 5, 5, 5, 9]
    const count = at.length
    const end = Float64Array.from(at, (t, i) => t + took[i])
    const record = {
      at: Float64Array.from(at),
      start: Float64Array.from(at),
      firstToken: end,
      end,
      outcome: new Uint8Array(count).fill(Outcome.finished),
      endSeconds: 7200,
      requests: {
        count,
        classIndex: new Uint8Array(count),
        at: Float64Array.from(at),
        input: new Int32Array(count),
        output: new Int32Array(count),
      },
    } as unknown as RunRecord // only what is read of a record
    const target = { measure: 'latency' as const, percentile: 90, seconds: 2 }
    // One late request in a piece is chance; the pieces at 2000 and 2400 are two apart, one moment.
    expect(badMoments(record, [{ classIndex: 0, className: 'pilot desk', overdueSeconds: 60, target }], 7200)).toEqual([
      { fromSeconds: 1800, untilSeconds: 2700, late: 5, arrivals: 5, className: 'pilot desk', target },
    ])
    expect(
      badMoments(record, [{ classIndex: 0, className: 'pilot desk', overdueSeconds: 60, target: { ...target, seconds: 10 } }], 7200),
    ).toEqual([])
  })
})
