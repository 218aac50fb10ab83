import { describe, expect, it } from 'vitest'
import { skerrySound } from '../../../examples/make/skerrySound.ts'
import { solve, solveLater } from '../../test/solver.ts'
import { money } from '../cost/money.ts'
import type { Plan } from '../plan/schema.ts'
import { frontier, frontierOptions } from '../answer/frontier.ts'
import { rankedPoints } from '../answer/frontierPoints.ts'
import { nearestCheaper } from '../answer/nearestCheaper.ts'
import { recommend } from '../answer/recommend.ts'
import { breakingSentences } from '../explain/breakingWords.ts'
import { growthSentence, monthsUntil, verdict } from '../answer/verdict.ts'
import { demandOf } from './demanded.ts'
import { leastBusySeconds } from './leastBusy.ts'
import { candidateOf } from '../candidate/named.ts'
import { enumerate } from '../candidate/enumerate.ts'
import { driveElsewhere, driveHere, trialsHere } from './drive.ts'
import type { TrialOrder } from './order.ts'
import { Load } from './load.ts'
import { allHold, readings } from '../measure/placedTargets.ts'
import { run } from '../run/run.ts'
import { profileOf } from '../candidate/candidate.ts'
import { TrialRunner } from './trialRunner.ts'

/** Two hours of the demo at a steady rate, every machine, few sequence limits. */
const plan: Plan = {
  ...skerrySound,
  repetitions: 2,
  horizon: { ...skerrySound.horizon, seconds: 7200, warmupSeconds: 600 },
  classes: skerrySound.classes.map((c, i) => ({ ...c, arrivals: { kind: 'steady' as const, ratePerSecond: [1, 0.1, 0.8][i] } })),
  services: skerrySound.services.map((s) => ({ ...s, policies: [], search: { sequences: [16], devices: [1, 2] } })),
}
const answerTo = (p: Plan) => {
  const load = new Load(p)
  return driveHere(recommend(p, load), load, undefined, solve)
}

describe('recommend', () => {
  const answer = answerTo(plan)

  it('gives the same answer however many threads carry out its orders, and in whatever order they finish', async () => {
    const load = new Load(plan)
    const run = trialsHere(load)
    let turn = 0
    const late = async (order: TrialOrder) => {
      await new Promise((resolve) => setTimeout(resolve, ((turn++ * 7) % 5) * 2))
      return run(order)
    }
    expect(await driveElsewhere(recommend(plan, load), { run: late, solve: solveLater })).toEqual(answer)
  })

  it('ranks at least three runners-up for every service, none cheaper than the one before', () => {
    for (const s of answer.services) {
      const costs = [...(s.passedOver === null && s.chosen ? [s.chosen] : []), ...s.runnersUp].map((c) => c.money.perMonth)
      expect(s.runnersUp.length).toBeGreaterThanOrEqual(3)
      expect(costs).toEqual([...costs].sort((a, b) => a - b))
    }
  })

  it('stays within the stock when services want the same machine, and says what it passed over', () => {
    const scarce = { ...plan, machines: plan.machines.map((m) => (m.provider === 'Fenland' ? { ...m, stock: 1 } : m)) }
    const { services } = answerTo(scarce)
    for (const m of scarce.machines)
      expect(services.reduce((sum, s) => sum + (s.chosen?.machine === m.name ? s.chosen.machines : 0), 0)).toBeLessThanOrEqual(m.stock)
    const wanted = services.filter((s) => s.passedOver !== null)
    expect(wanted.length).toBeGreaterThan(0)
    expect(wanted[0].passedOver).toMatch(/\d × .* would do for .* a month, but the \d+ that can be had serve the plan better elsewhere/)
  })

  it('a replica over several machines is rented in whole groups, and grows by them', () => {
    const [talk] = plan.services
    const joined = plan.machines.filter((m) => m.name === 'Northquay stack' || m.name === 'Tarn great')
    const large = {
      ...plan,
      machines: joined,
      classes: [
        {
          ...plan.classes[0],
          arrivals: { kind: 'steady' as const, ratePerSecond: 2 },
          targets: [{ measure: 'latency' as const, percentile: 90, seconds: 60 }],
        },
      ],
      services: [{ ...talk, model: 'Godwit 70B', search: { sequences: [16], devices: [2, 4], variants: ['16-bit'] } }],
    }
    const [found] = answerTo(large).services
    const stacks = [...(found.chosen ? [found.chosen] : []), ...found.runnersUp].filter((c) => c.machine === 'Northquay stack')
    expect(stacks.length).toBeGreaterThan(0)
    for (const c of stacks) {
      expect(c.machines).toBe(c.replicas * c.devices)
      // With the disk: 9 GB of image and 141 GB of files at 0.09 a GB and month.
      expect(c.money.perHour).toBeCloseTo(c.machines * (4.9 + (0.09 * (9 + 141)) / 730), 9)
    }
    const rejected = found.rejected.map((r) => r.reason.replaceAll(/[\u00a0\u202f]/g, ' '))
    expect(rejected.join('; ')).not.toMatch(/NaN|undefined/)
  })

  it('adds up to its parts, and its verdict to its answer', () => {
    const perMonth = answer.services.reduce((sum, s) => sum + (s.chosen?.money.perMonth ?? 0), 0)
    expect(answer.perMonth).toBeCloseTo(perMonth + 60, 9) // 36 for the balancer and 24 for logs and addresses
    const v = verdict(answer)
    expect(v.shopping.map((s) => s.machines)).toEqual(answer.services.map((s) => s.chosen?.machines))
    expect(v.tightest?.headRoom).toBe(
      Math.min(...answer.services.flatMap((s) => s.chosen?.targets ?? []).map((t) => t.headRoom ?? Infinity)),
    )
  })

  it('knows how much more load the answer bears: one step less holds, the step does not', () => {
    const load = new Load(plan)
    const run = trialsHere(load)
    for (const s of answer.services) {
      const { chosen, breaking } = s
      if (!chosen || !breaking?.breaksAt) continue
      const service = plan.services.find((x) => x.name === s.service)!
      const candidate = enumerate(plan, service).find(
        (c) =>
          c.machine.name === chosen.machine &&
          c.variant.name === chosen.variant &&
          c.devices === chosen.devices &&
          c.sequences === chosen.sequences,
      )!
      const at = (loadFactor: number) =>
        run({
          service: s.service,
          candidate: candidate.index,
          groups: chosen.machines / candidate.group.machines,
          repetition: 0,
          loadFactor,
          toTheEnd: false,
        }).holds
      expect(at(breaking.holdsAt)).toBe(true)
      expect(at(breaking.breaksAt)).toBe(false)
      // Of the next best the first that holds where this one breaks, and none before it.
      s.runnersUp.forEach((next, i) => {
        if (breaking.next !== null && i > breaking.next) return
        const other = candidateOf(plan, service, next)!
        const holds = run({
          service: s.service,
          candidate: other.index,
          groups: other.policy ? other.maxGroups : next.machines / other.group.machines,
          repetition: 0,
          loadFactor: breaking.breaksAt!,
          toTheEnd: false,
        }).holds
        expect(holds).toBe(i === breaking.next)
      })
      const { expectedGrowthPerMonth: _, ...still } = plan
      expect(growthSentence(still, s)).toBeUndefined()
      const months = Math.floor(monthsUntil(breaking.holdsAt, 0.05))
      expect(growthSentence({ ...plan, expectedGrowthPerMonth: 0.05 }, s)).toMatch(
        months < 1 ? /has to change within a month/ : new RegExp(`5\\.00.% growth a month it has to change after ${months} month`),
      )
    }
  })

  it('knows how far each class alone may grow, where several are served together', () => {
    const [pilots] = plan.classes
    const both = {
      ...plan,
      machines: plan.machines.filter((m) => m.name.startsWith('Fenland')),
      services: [plan.services[0]],
      classes: [
        { ...pilots, arrivals: { kind: 'steady' as const, ratePerSecond: 0.9 } },
        { ...pilots, name: 'night watch', arrivals: { kind: 'steady' as const, ratePerSecond: 0.1 } },
      ],
    }
    const [{ chosen, breaking }] = answerTo(both).services
    const load = new Load(both)
    const run = trialsHere(load)
    const [service] = both.services
    const candidate = candidateOf(both, service, chosen!)!
    const at = (loadFactor: number, grown: string) =>
      run({
        service: service.name,
        candidate: candidate.index,
        groups: chosen!.machines / candidate.group.machines,
        repetition: 0,
        loadFactor,
        grown,
        toTheEnd: false,
      }).holds
    expect(breaking!.byClass.map((c) => c.grown)).toEqual(['pilot desk', 'night watch'])
    for (const c of breaking!.byClass) {
      expect(at(c.holdsAt, c.grown), c.grown).toBe(true)
      if (c.breaksAt !== null) expect(at(c.breaksAt, c.grown), c.grown).toBe(false)
      expect(c.holdsAt).toBeGreaterThanOrEqual(breaking!.holdsAt)
    }
    // A tenth of the load may grow further by itself than nine tenths.
    expect(breaking!.byClass[1].holdsAt).toBeGreaterThan(breaking!.byClass[0].holdsAt)
    expect(breakingSentences(breaking!).join('. ')).toMatch(/^It holds up to .* night watch alone may grow to /)
  })

  it('says of the nearest that costs less by how much it misses', () => {
    const figures = answer.services.flatMap((s) => nearestCheaper(s) ?? []).map(({ option }) => option.rejection)
    expect(figures.length).toBeGreaterThan(0)
    for (const r of figures) expect('missed' in r && r.missed.value, JSON.stringify(r)).toBeGreaterThan(0)
  })

  it('has a frontier: what is ranked, and around it points that hold and points that miss', () => {
    const [s] = answer.services
    const load = new Load(plan)
    const points = driveHere(frontier(plan, plan.services[0], frontierOptions(s)), load)
    expect(points.filter((p) => p.holds).length).toBeGreaterThan(4)
    expect(
      points.some((p) => p.machine === s.chosen?.machine && p.machines === s.chosen.machines - 1 && !p.holds) || s.chosen?.machines === 1,
    ).toBe(true)
    const ranked = rankedPoints(plan, plan.services[0], s)
    expect(ranked.map((p) => p.perHour)).toEqual([s.chosen!, ...s.runnersUp].map((c) => c.money.perHour))
    for (const p of [...points, ...ranked])
      if (p.strain !== null) expect(p.holds ? p.strain <= 1 : p.strain > 1, JSON.stringify(p)).toBe(true)
  })
})

it('growth reaches a multiple when it has compounded so far', () => expect(1.05 ** monthsUntil(1.5, 0.05)).toBeCloseTo(1.5, 9))

describe('bounds', () => {
  it('are never above what any simulated configuration really does', () => {
    for (const service of plan.services) {
      const requests = new Load(plan).of(service, 0)
      const demand = demandOf(plan, service, requests)
      for (const candidate of enumerate(plan, service).filter((c) => c.fit.fits)) {
        const profile = profileOf(candidate)
        const least = leastBusySeconds(demand, profile) / (plan.horizon.seconds - (service.startupSeconds ?? 0))
        const fewer = Math.ceil(least) - 1
        if (fewer < 1 || fewer > 6) continue
        const groups = Math.ceil(fewer / candidate.group.replicas)
        const short = { ...candidate, unusedReplicas: groups * candidate.group.replicas - fewer }
        const ran = run(plan, { service, candidate: short, groups }, requests, { toTheEnd: true })
        expect(allHold(plan, service, readings(plan, service, ran.record)), `${candidate.machine.name} ${fewer}`).toBe(false)
      }
    }
  })
})

describe('money', () => {
  it('is by the hour, by a month of 730 hours, and by what was finished', () => {
    expect(money(2, 7200, { requests: 8000, tokens: 2_000_000 })).toEqual({
      perHour: 2,
      perMonth: 1460,
      forHorizon: 4,
      perThousandRequests: 0.5,
      perMillionTokens: 2,
    })
    expect(money(2, 7200, { requests: 0, tokens: 0 })).toMatchObject({ perThousandRequests: undefined, perMillionTokens: undefined })
  })

  it('for 1,000 requests and a million tokens is the mean over the draws, of what is paid and of what was finished', () => {
    const load = new Load(plan)
    const [service] = plan.services
    const chosen = answerTo(plan).services[0].chosen!
    const candidate = candidateOf(plan, service, chosen)!
    const draws = Array.from(
      { length: plan.repetitions },
      (_, repetition) =>
        new TrialRunner(plan).run(
          {
            service: service.name,
            candidate: candidate.index,
            groups: chosen.machines / candidate.group.machines,
            repetition,
            loadFactor: 1,
            toTheEnd: true,
          },
          load.of(service, repetition),
        ).finished,
    )
    const mean = (of: (d: (typeof draws)[number]) => number) => draws.reduce((sum, d) => sum + of(d), 0) / draws.length
    expect(new Set(draws.map((d) => d.requests)).size).toBe(draws.length)
    expect(chosen.money.perThousandRequests).toBeCloseTo((chosen.money.forHorizon * 1000) / mean((d) => d.requests), 9)
    expect(chosen.money.perMillionTokens).toBeCloseTo((chosen.money.forHorizon * 1e6) / mean((d) => d.tokens), 9)
  })
})
