import { describe, expect, it } from 'vitest'
import { caller, sleeper } from '../../test/sleeper.ts'
import { enumerate } from '../candidate/enumerate.ts'
import { coldCallers } from '../measure/callersMet.ts'
import { checkPlan } from '../plan/read.ts'
import type { Plan } from '../plan/schema.ts'
import { alteredService } from '../run/alteredService.ts'
import { driveHere } from '../search/drive.ts'
import { Load } from '../search/load.ts'
import { recommend } from './recommend.ts'
import { sparing } from './sparing.ts'

/** Four callers of a week, each on another day, to a service that sleeps after ten minutes. */
const plan = sleeper([caller('a', 36_000), caller('b', 122_000), caller('c', 208_000), caller('d', 330_000)], 'hold')

function reportOf(of: Plan) {
  const [service] = of.services
  const [candidate] = enumerate(of, service)
  const report = [...sparing(of, { service: candidate.service, candidate, groups: 1 }, new Load(of))].at(-1)
  if (!report) throw new Error('it says something')
  return report
}
const report = reportOf(plan)
const way = (words: RegExp) => {
  const found = report.ways.find((w) => words.test(w.words))
  if (!found) throw new Error(`no ${String(words)} among ${report.ways.map((w) => w.words).join(', ')}`)
  return found
}

describe('the price of a spared cold caller', () => {
  it('is reckoned by hand: one copy all the time costs the week but for the hours it would run anyway', () => {
    const [base] = report.ways
    // Each of four: 150 s of start-up, 1 s of work, 600 s idle, 60 s until the machine is given back.
    const hours = (4 * (150 + 1 + 600 + 60)) / 3600
    expect([base.coldAWeek, base.longestSeconds]).toEqual([4, 150])
    expect(base.perMonth).toBeCloseTo((hours / 168) * 730, 6)
    const always = way(/^1 copy all the time/)
    expect(always.coldAWeek).toBe(0)
    expect(always.perMonth).toBeCloseTo(730, 6)
    expect(always.perSpared).toBeCloseTo((730 - base.perMonth) / (4 * (730 / 168)), 6)
  })

  it('tries longer idle times, calls that keep awake, windows, stopped machines, kept weights, smaller images and visitors', () => {
    // Who comes on another day is not spared by an idle time of two hours, which is paid four times.
    expect(way(/^asleep after 2.h/)).toMatchObject({ coldAWeek: 4, perSpared: null, onFrontier: false })
    expect(way(/^a call every 9.min/).coldAWeek).toBe(0)
    expect(way(/^machines stopped instead of given back$/)).toMatchObject({ coldAWeek: 4 })
    expect(way(/weights kept on their disk/).longestSeconds).toBe(150) // the first; later ones find weights and image
    expect(way(/^an image of 4\.50.GB/).longestSeconds).toBeCloseTo(150 - 7.5, 9)
    const visitors = way(/^visitors who wake it 30.s before/)
    expect(visitors.coldAWeek).toBeLessThanOrEqual(4)
    expect(visitors.longestSeconds).toBeLessThan(150)
    expect(report.ways.filter((w) => /^at least 1 copy every day from/.test(w.words)).length).toBeGreaterThan(0)
  })

  it('every way, made so in the plan, is answered with what it said', () => {
    for (const { alteration, words, perMonth, coldAWeek } of report.ways) {
      if (!alteration) continue
      const [service] = plan.services
      const made = checkPlan({ ...plan, services: [alteredService(service, 'sleeps', alteration)] })
      const load = new Load(made)
      const answer = driveHere(recommend(made, load), load)
      const [{ met }] = answer.services
      expect(
        met.reduce((sum, m) => sum + coldCallers(m), 0),
        words,
      ).toBe(coldAWeek)
      expect(answer.perMonth, words).toBeCloseTo(perMonth, 6)
    }
  })

  it('marks exactly those that nothing beats in both', () => {
    for (const w of report.ways) {
      const beaten = report.ways.some(
        (o) => o.coldAWeek <= w.coldAWeek && o.perMonth <= w.perMonth && (o.coldAWeek < w.coldAWeek || o.perMonth < w.perMonth),
      )
      expect(w.onFrontier, w.words).toBe(!beaten)
    }
  })

  it('has nothing to say where nobody finds it cold', () => {
    const { idle: _, ...awake } = plan.services[0].policies![0]
    const policies = [{ ...awake, min: 1, metrics: [{ metric: 'in-flight' as const, target: 5 }] }]
    expect(reportOf(checkPlan({ ...plan, services: [{ ...plan.services[0], policies }] })).ways).toHaveLength(1)
  })
})
