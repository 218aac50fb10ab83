import { describe, expect, it } from 'vitest'
import { skerrySound } from '../../../examples/make/skerrySound.ts'
import { enumerate, startingCandidates } from '../candidate/enumerate.ts'
import { statedCandidate } from '../candidate/named.ts'
import { isByTokens } from '../cost/purchase.ts'
import { BadInput } from '../plan/problem.ts'
import { checkPlan } from '../plan/read.ts'
import type { Plan, Sold } from '../plan/schema.ts'
import { soldPlan } from '../../test/smallPlan.ts'
import { RandomStream } from '../random/stream.ts'
import { paidRun } from '../run/paidRun.ts'
import { wholeRun } from '../run/wholeRun.ts'
import { Load } from '../search/load.ts'
import { configured, refusalProblem } from './configured.ts'
import { levers } from './levers.ts'
import { optionName, optionOf } from '../candidate/optionName.ts'
import { volumeCurves } from './volume.ts'
import { volumeWords } from './volumeWords.ts'
import { largestBill, largestBillWords } from './largestBill.ts'

const relay: Sold = {
  name: 'Firth relay',
  provider: 'Firth',
  region: 'firth',
  model: 'Curlew 14B',
  variant: '8-bit',
  pricePerMillionInput: 2,
  pricePerMillionCachedInput: 0.5,
  pricePerMillionOutput: 8,
  pricePerRequest: 0.001,
  firstToken: { seconds: 0.4 },
  secondsPerInputToken: 1e-4,
  eachToken: { seconds: 0.02 },
}

/** One request a second for a minute and a half, of 1000 prompt tokens, half of them cached, and 101 answer tokens. */
function steadyPlan(sold: Partial<Sold> = {}): Plan {
  const [talk] = skerrySound.services
  return checkPlan({
    ...skerrySound,
    horizon: { start: skerrySound.horizon.start, seconds: 200, warmupSeconds: 0 },
    repetitions: 1,
    margin: 0,
    classes: [
      {
        name: 'clerk',
        service: talk.name,
        arrivals: { kind: 'closed-loop', clients: 3, requestsPerClient: 500, thinkSeconds: 1, thinking: 'fixed' },
        input: { kind: 'fixed', value: 1000 },
        output: { kind: 'fixed', value: 101 },
        cachedShare: 0.5,
        targets: [{ measure: 'ttft', percentile: 95, seconds: 0.5 }],
      },
    ],
    soldByTokens: [{ ...relay, ...sold }],
    services: [
      { name: talk.name, model: talk.model, routing: 'least-busy', search: { sequences: [8], purchases: ['on-demand', 'per-token'] } },
    ],
  })
}

function ran(plan: Plan) {
  const [service] = plan.services
  const candidate = enumerate(plan, service).find((c) => isByTokens(c.purchase))!
  return { candidate, run: wholeRun(plan, { service: candidate.service, candidate, groups: 1 }, new Load(plan).of(service, 0)) }
}

it('has no start-up to be looked at, in no command: what starts up is what fits of the rest, in order', () => {
  const plan = steadyPlan()
  const all = enumerate(plan, plan.services[0])
  expect(all.some((c) => c.fit.fits && isByTokens(c.purchase))).toBe(true)
  const named = [...startingCandidates(plan, plan.services[0])].map(optionName)
  expect(named.length).toBeGreaterThan(0)
  expect(named).toEqual(all.filter((c) => c.fit.fits && !isByTokens(c.purchase)).map(optionName))
})

describe('a service that is sold by tokens', () => {
  it('answers and costs as by hand: 0.4 s and 0.05 s of prompt to the first token, 100 further ones of 20 ms', () => {
    const { candidate, run } = ran(steadyPlan())
    const { record } = run
    expect([candidate.machine.name, candidate.maxGroups, candidate.group.replicas, run.life]).toEqual(['Firth relay', 1, 1, null])
    const ended = record.end.findIndex((t) => t === t)
    expect(record.firstToken[ended] - record.at[ended]).toBeCloseTo(0.45, 9)
    expect(record.end[ended] - record.at[ended]).toBeCloseTo(2.45, 9)
    // Each of the three is away for 1 s and in service for 2.45: in 200 s it begins 58 times, at 0, 3.45, … 196.65.
    const begun = record.start.filter((t) => t === t).length
    expect(begun).toBe(3 * Math.ceil(200 / 3.45))
    const each = 0.001 + (500 * 2 + 500 * 0.5 + 101 * 8) / 1e6
    expect(run.perHour).toBeCloseTo((begun * each * 3600) / 200, 9)
    expect(run.holds).toBe(true)
    // Shown over time it is paid when it is begun: three at 0 s and nobody until 3.45 s, in pieces of 200 s / 240.
    const { paid, perHour } = paidRun(steadyPlan(), { service: candidate.service, candidate, groups: 1 }, run)
    expect(paid.values.slice(0, 5)).toEqual([expect.closeTo((3 * each * 3600) / (200 / 240), 9), 0, 0, 0, paid.values[0]])
    expect(paid.values.reduce((a, b) => a + b, 0) / paid.values.length).toBeCloseTo(perHour, 9)
  })

  it('refuses above what a minute may have, all classes together, and what is refused costs nothing', () => {
    const { run } = ran(steadyPlan({ limits: { requestsPerMinute: 12 } }))
    const begun = run.record.start.filter((t) => t === t).length
    // A minute's worth at once, and one every five seconds from then on.
    expect(begun).toBeGreaterThanOrEqual(12 + 200 / 5 - 2)
    expect(begun).toBeLessThanOrEqual(12 + 200 / 5)
    expect(run.record.outcome.filter((o) => o === 2).length).toBeGreaterThan(50)
    expect(run.perHour).toBeCloseTo((begun * (0.001 + (500 * 2 + 500 * 0.5 + 101 * 8) / 1e6) * 3600) / 200, 9)
  })

  it('times are drawn for each request as stated: half below the median, 95 of 100 below the other', () => {
    const { run } = ran(steadyPlan({ firstToken: { seconds: 0.4, p95Seconds: 0.8 }, secondsPerInputToken: 0 }))
    const first = [...run.record.firstToken].map((t, i) => t - run.record.start[i]).filter((t) => t === t)
    const below = (seconds: number) => first.filter((t) => t <= seconds).length / first.length
    expect(first.length).toBeGreaterThan(120)
    expect(below(0.4)).toBeGreaterThan(0.36)
    expect(below(0.4)).toBeLessThan(0.64)
    expect(below(0.8)).toBeGreaterThan(0.9)
    expect(below(0.8)).toBeLessThan(1)
  })

  it('costs at the most what its limits let a key ask for, the dearer tokens first; or there is no most, and it is said', () => {
    const plan = steadyPlan({ limits: { requestsPerMinute: 100, tokensPerMinute: 50_000, outputTokensPerMinute: 20_000 } })
    const { candidate } = ran(plan)
    const bill = largestBill(plan, candidate, 1)
    expect(bill).toMatchObject({ carriedBy: 'offer limits', tokens: 50_000 * 60 * 730 })
    expect(bill.perMonth / (60 * 730 * (100 * 0.001 + (20_000 * 8 + 30_000 * 2) / 1e6))).toBeCloseTo(1, 9)
    const open = ran(steadyPlan())
    expect(largestBillWords(largestBill(steadyPlan(), open.candidate, 1), 1, 'EUR')).toEqual([
      'There is no most that it can cost: nothing limits what strangers who find the address may ask for. State the limits of the offer, or rate limits of its classes',
    ])
    // One place, and the dearest a second is the longest prompt: 1.4 s for 0.001 + 10 000 tokens of 2 a million and one of 8.
    const narrow = steadyPlan({ concurrency: 1, contextTokens: 10_001 })
    const longest = largestBill(narrow, ran(narrow).candidate, 1)
    expect(longest.carriedBy).toBe('side by side')
    expect(longest.perMonth / ((3600 * 730 * (0.001 + 0.02 + 8e-6)) / 1.4)).toBeCloseTo(1, 9)
  })

  it('is laid beside machines over the volume: what every request there costs, and a break-even on the line between two volumes', () => {
    const plan = checkPlan({
      ...steadyPlan({ pricePerRequest: 0 }),
      classes: [
        {
          name: 'clerk',
          service: skerrySound.services[0].name,
          arrivals: { kind: 'steady', ratePerSecond: 0.5 },
          input: { kind: 'fixed', value: 1000 },
          output: { kind: 'fixed', value: 101 },
          targets: [{ measure: 'latency', percentile: 80, seconds: 60 }],
        },
      ],
      repetitions: 3,
    })
    const [service] = plan.services
    const all = enumerate(plan, service)
    const tokens = all.find((c) => isByTokens(c.purchase))!
    const machine = all.find((c) => c.fit.fits && c.purchase.kind === 'on-demand' && c.policy === null)!
    const specOf = (candidate: typeof machine) => ({ service: candidate.service, candidate, groups: 1 })
    const load = new Load(plan)
    const curves = (first: typeof machine, others: (typeof machine)[]) =>
      [...volumeCurves(plan, specOf(first), others.map(specOf), load, (p) => new Load(p))].at(-1)
    const report = curves(tokens, [tokens, machine])!
    expect([report.called.machine, report.alwaysOn.machine, report.startSeconds]).toEqual(['Firth relay', machine.machine.name, 0])
    const each = (1000 * 2 + 101 * 8) / 1e6
    for (const p of report.points) {
      expect(p.bounds).toBeNull()
      const requests = load.multiplied(service, p.multiple).count
      expect(p.called[0] / ((requests * each * 3600 * 730) / 200)).toBeCloseTo(1, 9)
    }
    const { breakEven, points } = report
    const below = points.findLast((p) => p.multiple <= breakEven!.low)!
    const above = points.find((p) => p.multiple >= breakEven!.high)!
    expect(below.called.every((v, draw) => v < below.alwaysOn[draw]!)).toBe(true)
    expect(above.called.every((v, draw) => v >= above.alwaysOn[draw]!)).toBe(true)
    expect(volumeWords(report, 'EUR')[0]).toMatch(/^Below [\d\s]+ requests a month .*Firth relay by tokens costs less, above it /)
    // The same from the other side, and nothing where there is nothing that is rented.
    expect(curves(machine, [])?.breakEven).toEqual(breakEven)
    expect(curves(tokens, [tokens])).toBeUndefined()
  })

  it('depends on how late its seller is, and on nothing that could be set', () => {
    const plan = steadyPlan()
    const [service] = plan.services
    const { candidate } = ran(plan)
    const chosen = { option: optionOf(optionName(candidate)), machines: 1 }
    const { effects } = [...levers(plan, service.name, chosen, [], new Load(plan), (p) => new Load(p))].at(-1)!
    expect(effects.filter(({ perHour }) => perHour === null)).toEqual([])
    // 0.45 s of 0.5 s; with first tokens 20 % later than stated 0.53.
    const later = effects.find((e) => e.words === 'first tokens 20 % later than stated')
    expect(later?.strain).toBeCloseTo(0.53 / 0.5, 6)
    expect(effects.map((e) => e.words)).toContain('further tokens 20 % slower than stated')
  })

  it('never costs more than its largest bill, over random plans', () => {
    const random = new RandomStream(11, 'largest by tokens')
    let bounded = 0
    for (let n = 0; n < 20; n++) {
      const plan = checkPlan(soldPlan(random, n))
      const load = new Load(plan).of(plan.services[0], 0)
      for (const candidate of enumerate(plan, plan.services[0]).filter((c) => isByTokens(c.purchase) && c.fit.fits)) {
        const bill = largestBill(plan, candidate, 1)
        const run = wholeRun(plan, { service: candidate.service, candidate, groups: 1 }, load)
        // A bucket that is full at the start holds another minute’s worth.
        const burst = (bill.perMonth / 730 / 60) * (3600 / plan.horizon.seconds)
        if (bill.carriedBy === 'offer limits') bounded++
        if (bill.carriedBy === 'offer limits') expect(run.perHour).toBeLessThanOrEqual(bill.perMonth / 730 + burst)
      }
    }
    expect(bounded).toBeGreaterThan(8)
  })

  it('may be stated, and is refused where it is not what it says', () => {
    const plan = steadyPlan()
    const [service] = plan.services
    const stated = statedCandidate(plan, service, {
      machine: 'Firth relay',
      variant: '8-bit',
      sequences: 50,
      replicas: 1,
      purchase: 'per-token',
    })
    expect(stated).toMatchObject({ purchase: { kind: 'per-token' }, maxGroups: 1, fit: { fits: true } })
    const wrong = (parts: Partial<Sold>) => {
      try {
        steadyPlan(parts)
      } catch (error) {
        if (error instanceof BadInput) return error.problems.map((p) => `${p.path} ${p.rule}`)
        throw error
      }
      return []
    }
    expect(wrong({ model: skerrySound.services[2].model! })).toEqual([
      'soldByTokens[0].model must be a model with prompts and answers: others have no tokens to sell',
      'soldByTokens[0].variant must be a name that stands in "models"',
    ])
    expect(wrong({ name: plan.machines[0].name })).toEqual(['soldByTokens[0].name must differ from the names in "machines"'])
    expect(wrong({ firstToken: { seconds: 0.4, p95Seconds: 0.2 } })).toEqual([
      'soldByTokens[0].firstToken.p95Seconds must be at least the median',
    ])
    const short = checkPlan({ ...steadyPlan({ contextTokens: 1000 }), services: [{ ...service, limits: { contextTokens: 2000 } }] })
    expect(enumerate(short, short.services[0]).find((c) => isByTokens(c.purchase))?.fit).toMatchObject({
      misfit: { kind: 'sold-context', contextTokens: 2000, takes: 1000 },
    })
  })

  it('is refused as stated where it is sold as something else, over devices, in another way of paying, twice, or by a policy', () => {
    const plan = steadyPlan()
    const [{ name, model, routing }] = plan.services
    const follows = { name: 'follows', min: 1, max: 2, schedule: [{ days: [1], from: '08:00', until: '18:00', min: 1 }] }
    const refused = (change: object, policies: object[] = []): string => {
      const configuration = {
        machine: relay.name,
        variant: relay.variant,
        sequences: 4,
        replicas: 1,
        purchase: 'per-token' as const,
        ...change,
      }
      try {
        const stated = checkPlan({ ...plan, services: [{ name, model, routing, policies, configuration }] })
        const [service] = stated.services
        const found = configured(stated, service, service.configuration!)
        if (found.ok) return 'taken'
        const { path, rule } = refusalProblem(stated, 0, service.configuration!, found.refusal)
        return `${path} ${rule}`
      } catch (error) {
        if (!(error instanceof BadInput)) throw error
        return error.problems.map((p) => `${p.path} ${p.rule}`).join('; ')
      }
    }
    expect(refused({})).toBe('taken')
    expect(refused({ variant: '4-bit' })).toMatch(/configuration.variant .* sold as Curlew 14B in 8-bit, not as Curlew 14B in 4-bit/)
    expect(refused({ devices: 2 })).toMatch(/configuration.devices .* a replica over 2 devices, the machine has 1/)
    expect(refused({ purchase: 'spot' })).toMatch(/configuration.purchase .* not sold spot; it is sold by tokens/)
    expect(refused({ replicas: 2 })).toMatch(/configuration.replicas .* the one key is 1 machine/)
    expect(refused({ policy: 'follows' }, [follows])).toMatch(/configuration.policy must be left out: Firth relay is sold by tokens/)
  })
})
