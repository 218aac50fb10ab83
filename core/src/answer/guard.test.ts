import { describe, expect, it } from 'vitest'
import { skerrySound } from '../../../examples/make/skerrySound.ts'
import { enumerate } from '../candidate/enumerate.ts'
import { isByTokens } from '../cost/purchase.ts'
import { priceOfRequest } from '../cost/tokens.ts'
import { checkPlan } from '../plan/read.ts'
import type { Guard } from '../plan/guardSchema.ts'
import type { Plan } from '../plan/schema.ts'
import { RandomStream } from '../random/stream.ts'
import { run } from '../run/run.ts'
import { driveHere } from '../search/drive.ts'
import { Load } from '../search/load.ts'
import { guardOf } from './guard.ts'
import { guardWords, stoppedWords } from './guardWords.ts'
import { recommend } from './recommend.ts'
import { simulateConfigured, configured } from './configured.ts'

const DAY = 86_400
const [talk] = skerrySound.services

/** One request each minute of half a cent, bought by tokens: 7.20 EUR a day. */
function guarded(guard: Guard, { seconds = 2 * DAY, start = '2027-03-01T00:00:00Z' } = {}): Plan {
  return checkPlan({
    ...skerrySound,
    horizon: { start, seconds, warmupSeconds: 0 },
    repetitions: 1,
    margin: 0,
    budgetPerMonth: undefined,
    prepaid: undefined,
    classes: [
      {
        name: 'clerk',
        service: talk.name,
        arrivals: { kind: 'closed-loop', clients: 1, requestsPerClient: 100_000, thinkSeconds: 58, thinking: 'fixed' },
        input: { kind: 'fixed', value: 1000 },
        output: { kind: 'fixed', value: 1 },
        rateLimit: { unit: 'requests', perSecond: 1, burst: 1 },
        targets: [{ measure: 'latency', percentile: 95, seconds: 5 }],
      },
    ],
    soldByTokens: [
      {
        name: 'Firth relay',
        provider: 'Firth',
        region: 'firth',
        model: talk.model!,
        variant: '8-bit',
        pricePerMillionInput: 0,
        pricePerMillionOutput: 0,
        pricePerRequest: 0.005,
        firstToken: { seconds: 2 },
        eachToken: { seconds: 0.02 },
      },
    ],
    services: [{ name: talk.name, model: talk.model, routing: 'least-busy', guard, search: { sequences: [8], purchases: ['per-token'] } }],
  })
}

function reported(plan: Plan) {
  const [service] = plan.services
  const candidate = enumerate(plan, service).find((c) => isByTokens(c.purchase))!
  return guardOf(plan, { service: candidate.service, candidate, groups: 1 }, new Load(plan))
}

describe('a guard', () => {
  it('that is never reached turns nobody away, and says the dearest day', () => {
    const report = reported(guarded({ budget: 7.3, every: 'day' }))!
    expect(report).toMatchObject({ stops: [], turnedAway: 0, callers: 2880, periods: 2, stoppedDraws: 0 })
    expect(report.fullest.spent).toBeCloseTo(7.2, 9)
    expect(guardWords(report, '2027-03-01T00:00:00Z', 'EUR')[0]).toMatch(/stops none .* dearest day begins (Mon|Tue) 00:00 with 7.20/)
    expect(stoppedWords(report, '2027-03-01T00:00:00Z', 'EUR')).toEqual([])
  })

  it('stops a day at the request that spends its budget, and whoever comes later is turned away: by hand', () => {
    // The thousandth request of a day is the first that has spent 5 EUR: begun 999 minutes after midnight; 440 come later.
    const report = reported(guarded({ budget: 4.9999, every: 'day' }))!
    expect(report.stops.map((s) => [s.periodFrom, s.stoppedAt])).toEqual([
      [0, expect.closeTo(999 * 60, 6)],
      [DAY, expect.closeTo(DAY + 999 * 60, 6)],
    ])
    // Who spends the last of it is served.
    expect(report).toMatchObject({ callers: 2880, turnedAway: 2 * 440, stoppedDraws: 1, draws: 1 })
  })

  it('stops machines once their hours have cost it: a fixed one at the same hour of each day', () => {
    const base = guarded({ budget: 12, every: 'day' })
    const plan = checkPlan({
      ...base,
      services: base.services.map((s) => ({ ...s, search: { sequences: [8], purchases: ['on-demand' as const] } })),
    })
    const [service] = plan.services
    const candidate = enumerate(plan, service).find((c) => c.fit.fits && c.maxGroups > 0 && c.prices.onDemandPerHour > 0.6)!
    const report = guardOf(plan, { service: candidate.service, candidate, groups: 1 }, new Load(plan))!
    const hours = 12 / candidate.prices.onDemandPerHour
    expect(report.stops.map((s) => s.stoppedAt / 3600)).toEqual([expect.closeTo(hours, 9), expect.closeTo(24 + hours, 9)])
    // A fixed number costs what it costs, whoever calls: strangers spend it as fast as nobody.
    expect(report.strangers!.spentAfterSeconds / 3600).toBeCloseTo(hours, 9)
  })

  it('counts days by the clock of the start: the first and the last may be cut', () => {
    const report = reported(guarded({ budget: 0.9001, every: 'day' }, { start: '2027-03-01T21:00:00+01:00', seconds: DAY }))!
    // Three hours of the first evening bring 180 requests, not quite enough; the other 21 hours bring the 181st after three.
    expect(report.periods).toBe(2)
    expect(report.stops).toHaveLength(1)
    expect(report.stops[0].periodFrom).toBe(3 * 3600)
    expect(report.stops[0].stoppedAt).toBeCloseTo(3 * 3600 + 180 * 60, 6)
  })

  it('takes a shorter horizon over and over for a day', () => {
    // Three hours of one request a minute: the thousandth of the day is in the sixth round.
    const report = reported(guarded({ budget: 4.9999, every: 'day' }, { seconds: 3 * 3600 }))!
    expect(report.stops.map((s) => s.stoppedAt)).toEqual([expect.closeTo(999 * 60, 6)])
    expect(report).toMatchObject({ periods: 1, callers: 1440, turnedAway: 440 })
    expect(report.fullest.spent).toBeCloseTo(7.2, 9)
    expect(report.strangers!.turnedAwayShare).toBeCloseTo(1 - report.strangers!.spentAfterSeconds / DAY, 9)
  })

  it('takes a shorter horizon over and over for a month', () => {
    // 730 h of one request a minute cost 219 EUR; 146 EUR are spent after two thirds of it.
    const report = reported(guarded({ budget: 146, every: 'month' }))!
    expect(report.stops[0].stoppedAt / 3600).toBeCloseTo((730 * 2) / 3, 1)
    expect(report.turnedAway / report.callers).toBeCloseTo(1 / 3, 3)
    expect(report.fullest.spent).toBeCloseTo(219, 6)
  })

  it('is spent by strangers as fast as they may ask, and bounds what a month can cost', () => {
    // One a second at the most: 1800 requests are 9 EUR, after half an hour of each day; 47 of 48 of the callers come later.
    const report = reported(guarded({ budget: 9, every: 'day' }))!
    expect(report.strangers!.spentAfterSeconds).toBeCloseTo(1800, 6)
    expect(report.strangers!.turnedAwayShare).toBeCloseTo(47 / 48, 6)
    expect(report.mostPerMonth).toBeCloseTo((9 * 730) / 24, 6)
    expect(reported(guarded({ budget: 500, every: 'day' }))!.strangers).toBeNull()
  })

  it('is the same as stopping at the first request over the budget, over random plans of drawn sizes', () => {
    const random = new RandomStream(4, 'guards')
    for (let i = 0; i < 30; i++) {
      const budget = 0.5 + random.next() * 6
      const base = guarded({ budget, every: 'day' })
      const plan = checkPlan({
        ...base,
        seed: i,
        classes: base.classes.map((c) => ({
          ...c,
          rateLimit: undefined,
          arrivals: { kind: 'steady', ratePerSecond: 0.01 + random.next() * 0.02 },
          input: { kind: 'lognormal', median: 400, p95: 2000 },
        })),
        soldByTokens: base.soldByTokens!.map((s) => ({ ...s, pricePerMillionInput: 5, concurrency: 100 })),
      })
      const report = reported(plan)!
      const [service] = plan.services
      const candidate = enumerate(plan, service).find((c) => isByTokens(c.purchase))!
      const { record } = run(plan, { service: candidate.service, candidate, groups: 1 }, new Load(plan).of(service, 0), { toTheEnd: true })
      let [spent, day, turnedAway] = [0, 0, 0]
      for (let r = 0; r < record.requests.count; r++) {
        if (!(record.at[r] < 2 * DAY)) continue
        if (record.at[r] >= (day + 1) * DAY) [spent, day] = [0, day + 1]
        if (spent >= budget) turnedAway++
        else spent += priceOfRequest(candidate.prices.tokens!, record.requests.input[r], record.requests.output[r], 0)
      }
      expect(report.turnedAway).toBe(turnedAway)
    }
  })

  it('that stops the plan’s own callers is no answer that meets, whether searched or stated', () => {
    const ask = (guard: Guard) => {
      const plan = guarded(guard)
      const load = new Load(plan)
      return driveHere(recommend(plan, load), load)
    }
    const [ample, scarce] = [ask({ budget: 8, every: 'day' }), ask({ budget: 5, every: 'day' })]
    expect([ample.meets, scarce.meets]).toEqual([true, false])
    expect(scarce.services[0].guard?.stops).toHaveLength(2)
    const plan = guarded({ budget: 5, every: 'day' })
    const configuration = { machine: 'Firth relay', variant: '8-bit', sequences: 100_000, replicas: 1, purchase: 'per-token' as const }
    const [{ search: _, ...service }] = plan.services
    const stated = checkPlan({ ...plan, services: [{ ...service, configuration }] })
    const ready = configured(stated, stated.services[0], configuration)
    if (!ready.ok) throw new Error('it can be had')
    expect(simulateConfigured(stated, stated.services[0], configuration, new Load(stated), ready)).toMatchObject({ meets: false })
  })
})
