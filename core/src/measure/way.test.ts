import { describe, expect, it } from 'vitest'
import { caller, sleeper } from '../../test/sleeper.ts'
import { livingPlan } from '../../test/smallPlan.ts'
import { recommend } from '../answer/recommend.ts'
import { configured, simulateConfigured } from '../answer/configured.ts'
import { checkPlan } from '../plan/read.ts'
import type { Plan, Target } from '../plan/schema.ts'
import { RandomStream } from '../random/stream.ts'
import { driveHere } from '../search/drive.ts'
import { Load } from '../search/load.ts'
import { distribution } from './distribution.ts'
import { perRequestCsv } from './perRequest.ts'
import { wayIn, waySeconds } from '../plan/way.ts'

const WAY = { seconds: 0.04, bytesPerSecond: 1e6, requestBytes: 5e4, answerBytes: 1e4 }
/** 40 ms and 50 kB at 1 MB/s there, 40 ms back; 10 kB more for the whole. */
const FIRST = 0.13
const WHOLE = 0.14

const answerTo = (plan: Plan, load = new Load(plan)) => driveHere(recommend(plan, load), load)
/** Times of targets moved by so much where the way has a part in them. */
const moved = (plan: Plan, by: (t: Target) => Target, way?: typeof WAY): Plan =>
  checkPlan({ ...plan, margin: 0, classes: plan.classes.map((c) => ({ ...c, ...(way && { way }), targets: c.targets.map(by) })) })
const crosses = (t: Target): t is Extract<Target, { percentile: number }> => t.measure === 'ttft' || t.measure === 'latency'
const wayOf = (t: Target) => (t.measure === 'ttft' ? FIRST : WHOLE)

describe('the way there and back', () => {
  it('by hand: what is sent takes its time there, an answer by tokens only the seconds back', () => {
    const way = waySeconds({ way: WAY })
    expect([way.there, way.tokenBack, way.wholeBack]).toEqual([0.09, 0.04, 0.05].map((s) => expect.closeTo(s, 12)))
    expect((['wait', 'ttft', 'tpot', 'latency'] as const).map((m) => wayIn(way, m))).toEqual([
      0,
      expect.closeTo(FIRST, 12),
      0,
      expect.closeTo(WHOLE, 12),
    ])
    expect(waySeconds({})).toEqual({ there: 0, tokenBack: 0, wholeBack: 0 })
  })

  it('a promise at the caller is one at the service of so much less: the same answer but for its times', () => {
    const random = new RandomStream(5, 'way')
    let [chosen, rejected] = [0, 0]
    for (let n = 0; n < 10; n++) {
      // Conversations would go on later.
      const living = livingPlan(random, n)
      const drawn = { ...living, repetitions: 2, classes: living.classes.map(({ turns: _, ...c }) => c) }
      const atCaller = answerTo(moved(drawn, (t) => (crosses(t) ? { ...t, seconds: t.seconds + 0.4, at: 'caller' } : t), WAY))
      const without = answerTo(moved(drawn, (t) => (crosses(t) ? { ...t, seconds: t.seconds + 0.4 - wayOf(t) } : t)))
      const atService = answerTo(moved(drawn, (t) => (crosses(t) ? { ...t, seconds: t.seconds + 0.4 - wayOf(t), at: 'service' } : t), WAY))
      const [far, near, there] = [atCaller, without, atService].map(({ services: [s] }) => s)
      for (const one of [far, there]) {
        expect(one.chosen && [one.chosen.machine, one.chosen.machines, one.chosen.policy, one.chosen.money.perHour]).toEqual(
          near.chosen && [near.chosen.machine, near.chosen.machines, near.chosen.policy, near.chosen.money.perHour],
        )
        expect(one.rejected.map((r) => r.rejection.kind)).toEqual(near.rejected.map((r) => r.rejection.kind))
        expect(one.breaking?.breaksAt).toEqual(near.breaking?.breaksAt)
      }
      near.chosen?.targets.forEach(({ target, interval, certainty }, i) => {
        const [a, b] = [far.chosen!.targets[i], there.chosen!.targets[i]]
        expect([a.certainty, b.certainty]).toEqual([certainty, certainty])
        expect(b.interval?.mean).toBeCloseTo(interval!.mean, 9)
        expect(a.interval?.mean).toBeCloseTo(interval!.mean + (crosses(target) ? wayOf(target) : 0), 9)
      })
      chosen += near.chosen ? 1 : 0
      rejected += near.rejected.length
    }
    expect(chosen).toBeGreaterThan(2)
    expect(rejected).toBeGreaterThan(20)
  })

  it('is in the figures of a run and in its file, and waits have none of it', () => {
    const near = sleeper([caller('a', 3600)], 'hold')
    const [first] = near.classes
    const far = checkPlan({ ...near, classes: [{ ...first, way: { seconds: 0.25 }, targets: [] }, ...near.classes.slice(1)] })
    const ran = [near, far].map((plan) => {
      const load = new Load(plan)
      const [service] = plan.services
      const ready = configured(plan, service, service.configuration!)
      if (!ready.ok) throw new Error('it is stated')
      return { plan, load, ...simulateConfigured(plan, service, service.configuration!, load, ready) }
    })
    const [a, b] = ran.map(({ run }) => run.classes[0].spreads)
    expect(b.latency.p50! - a.latency.p50!).toBeCloseTo(0.5, 9)
    expect(b.wait).toEqual(a.wait)
    const [c, d] = ran.map(({ plan, record }) => distribution(plan, record, 0, 'latency').spread.max)
    expect(d! - c!).toBeCloseTo(0.5, 9)
    const [lines, more] = ran.map(({ plan, load, record, service }) =>
      [...perRequestCsv(plan, load.all(0), new Map([[service, record]]))].join('').split('\n'),
    )
    expect(more[0]).toBe(`${lines[0]},called,first_token_there,answer_there`)
    const [, , at, , , end, , , called, , there] = more[1].split(',')
    expect([Number(at) - Number(called), Number(there) - Number(end)]).toEqual([expect.closeTo(0.25, 6), expect.closeTo(0.25, 6)])
    expect(more[1].startsWith(lines[1])).toBe(true)
  })

  it('is between an answer and the next request of who sends one after the other', () => {
    const [first] = sleeper([caller('a', 3600)], 'hold').classes
    const loop = { ...first, arrivals: { ...first.arrivals, requestsPerClient: 3, thinkSeconds: 7 } as typeof first.arrivals }
    const times = [{}, { way: { seconds: 2, bytesPerSecond: 10, answerBytes: 30 } }].map((more) => {
      const plan = sleeper([{ ...loop, ...more }], 'hold')
      const [service] = plan.services
      const load = new Load(plan)
      const ready = configured(plan, service, service.configuration!)
      if (!ready.ok) throw new Error('it is stated')
      return simulateConfigured(plan, service, service.configuration!, load, ready).record
    })
    // 2 s there, 2 + 3 s back, and 7 s of thought between; each takes a second.
    const gaps = times.map(({ at, end }) => [at[1] - end[0], at[2] - end[1]])
    expect(gaps[0]).toEqual([7, 7].map((s) => expect.closeTo(s, 6)))
    expect(gaps[1]).toEqual([14, 14].map((s) => expect.closeTo(s, 6)))
  })

  it('a promise has to say where it is kept', () => {
    const plan = sleeper([caller('a', 3600)], 'hold')
    const [first] = plan.classes
    const said = (target: Target) => () => checkPlan({ ...plan, classes: [{ ...first, way: { seconds: 0.1 }, targets: [target] }] })
    expect(said({ measure: 'latency', percentile: 95, seconds: 9 })).toThrow(/targets\[0\]\.at: .*"caller" or at the "service"/)
    expect(said({ measure: 'wait', percentile: 95, seconds: 9, at: 'caller' })).toThrow(/the way has no part in a wait/)
    expect(said({ measure: 'latency', percentile: 95, seconds: 9, at: 'caller' })).not.toThrow()
    expect(() => checkPlan({ ...plan, classes: [{ ...first, way: { seconds: 0.1, requestBytes: 9 } }] })).toThrow(/bytesPerSecond/)
  })
})
