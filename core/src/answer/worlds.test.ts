import { describe, expect, it } from 'vitest'
import { skerrySound } from '../../../examples/make/skerrySound.ts'
import { byTokens } from '../../../examples/make/byTokens.ts'
import { oneConfiguration } from '../../../examples/make/oneConfiguration.ts'
import { livingPlan, smallPlan } from '../../test/smallPlan.ts'
import { ln } from '../arithmetic/sameBits.ts'
import { enumerate } from '../candidate/enumerate.ts'
import { mean, percentileOf } from '../measure/percentile.ts'
import { targetsOf } from '../measure/placedTargets.ts'
import { strainOf } from '../measure/targets.ts'
import { checkPlan } from '../plan/read.ts'
import type { Plan } from '../plan/schema.ts'
import { RandomStream } from '../random/stream.ts'
import { specOf } from '../run/specOf.ts'
import { wholeRun } from '../run/wholeRun.ts'
import { driveHere } from '../search/drive.ts'
import { Load } from '../search/load.ts'
import { specOfSteps, type TokenSpec } from '../service/measured/stepCoefficients.ts'
import { optionOf } from '../candidate/optionName.ts'
import { recommend } from './recommend.ts'
import { worldOf } from '../world/worldOf.ts'
import { worlds, type WorldsReport } from './worlds.ts'
import { worldsWords } from './worldWords.ts'

const SURE = { derived: 0, typed: 0, startUp: 0, load: 0 }
const last = (run: Generator<WorldsReport, WorldsReport>): WorldsReport => {
  for (;;) {
    const next = run.next()
    if (next.done) return next.value
  }
}
const hour: Plan = checkPlan({
  ...skerrySound,
  repetitions: 2,
  horizon: { ...skerrySound.horizon, seconds: 5400, warmupSeconds: 600 },
  classes: [{ ...skerrySound.classes[0], arrivals: { kind: 'steady', ratePerSecond: 1.2 } }],
  services: [{ ...skerrySound.services[0], policies: undefined, start: undefined, search: { sequences: [16], devices: [1, 2] } }],
} as Plan)
const answered = (plan: Plan) => {
  const load = new Load(plan)
  const [service] = driveHere(recommend(plan, load), load).services
  return { load, name: service.service, sized: { option: optionOf(service.chosen!), machines: service.chosen!.machines } }
}

describe('a world', () => {
  it('without doubt is the plan, but for its head-room: every run the same to the bit', () => {
    const random = new RandomStream(5, 'sure worlds')
    let seen = 0
    for (let number = 0; number < 30; number++) {
      const plan = { ...(number % 2 ? livingPlan : smallPlan)(random, number), doubt: SURE }
      const [service] = plan.services
      const candidate = [...enumerate(plan, service)].find((c) => c.fit.fits && c.maxGroups > 0)
      if (!candidate) continue
      const option = { ...optionOf({ ...candidate, machine: candidate.machine.name, variant: candidate.variant.name } as never) }
      const spec = specOf(plan, service.name, option, candidate.group.machines)
      const { plan: world, loadFactor } = worldOf(plan, number)
      const there = specOf(world, service.name, option, candidate.group.machines)
      expect(loadFactor).toBe(1)
      expect(world.margin).toBe(0)
      if (!spec || !there) continue
      seen++
      const requests = new Load(plan).of(service, 0)
      expect(wholeRun(world, there, requests).record.end).toEqual(wholeRun(plan, spec, requests).record.end)
    }
    expect(seen).toBeGreaterThan(15)
  })

  it('is drawn by its number: 95 of 100 are off by at most their doubt, alike where the place is the same, apart where it is another', () => {
    const plan = checkPlan({ ...skerrySound, doubt: { derived: 0.2, typed: 0.1, startUp: 0.3, load: 0.05 } } as Plan)
    const [machine, other] = [plan.machines[0], plan.machines.find((m) => m.device !== plan.machines[0].device)!]
    const drawn = Array.from({ length: 2000 }, (_, n) => worldOf(plan, n))
    const offs = (of: (n: number) => number) => Float64Array.from(drawn, (_, n) => ln(of(n)))
    const bandwidth = offs((n) => machine.bandwidthBytesPerSecond / drawn[n].plan.machines[0].bandwidthBytesPerSecond)
    expect(percentileOf(bandwidth.map(Math.abs), 0.95)! / ln(1.2)).toBeCloseTo(1, 1)
    expect(Math.abs(mean(bandwidth)!)).toBeLessThan(0.01)
    expect(percentileOf(offs((n) => drawn[n].loadFactor).map(Math.abs), 0.95)! / ln(1.05)).toBeCloseTo(1, 1)
    const bandwidthOf = (n: number, name: string) => drawn[n].plan.machines.find((m) => m.name === name)!.bandwidthBytesPerSecond
    const together = offs((n) => other.bandwidthBytesPerSecond / bandwidthOf(n, other.name)).map((o, i) => o * bandwidth[i])
    expect(Math.abs(mean(together)!) / mean(bandwidth.map((b) => b * b))!).toBeLessThan(0.08)
    const again = worldOf(plan, 7)
    expect(again.plan).toEqual(drawn[7].plan)
    const factors = (name: string) => again.factorsAt(plan.services[0].name, { machine: name, variant: '8-bit' })
    expect(factors(machine.name)).toEqual(drawn[7].factorsAt(plan.services[0].name, { machine: machine.name, variant: '8-bit' }))
    expect(factors(machine.name)).not.toEqual(factors(other.name))
    // One of the world is a plan as any other.
    expect(checkPlan(JSON.parse(JSON.stringify(drawn[3].plan)) as Plan).name).toBe(plan.name)
  })

  it('reaches step costs wherever they come from: of a service itself, of what is sold, of plain cores; and the order of a machine', () => {
    const doubt = { derived: 0.4, typed: 0.4, startUp: 0.4, load: 0 }
    const own = checkPlan({ ...oneConfiguration, doubt } as Plan)
    const drawn = (plan: Plan, machine: string) => {
      const { plan: there, factorsAt } = worldOf(plan, 3)
      return { plan: there, factors: factorsAt(plan.services[0].name, { machine, variant: '' }) }
    }
    const { plan: world, factors } = drawn(own, 'replica')
    const [before, after] = [own, world].map((p) => p.services[0].configuration!.profile as TokenSpec)
    expect(factors['step costs']).not.toBe(1)
    expect(after.cacheSecondsPerToken / before.cacheSecondsPerToken).toBeCloseTo(factors['step costs']!, 12)
    expect(
      (after.overheadSeconds as { perSequence: number }).perSequence / (before.overheadSeconds as { perSequence: number }).perSequence,
    ).toBeCloseTo(factors['step costs']!, 12)
    expect(after.cacheTokens).toBe(before.cacheTokens)
    const sold = checkPlan({ ...byTokens, doubt } as Plan)
    const [offer] = sold.soldByTokens!
    const there = drawn(sold, offer.name)
    expect(there.plan.soldByTokens![0].firstToken.seconds / offer.firstToken.seconds).toBeCloseTo(there.factors['step costs']!, 12)
    expect(there.plan.soldByTokens![0].eachToken.seconds / offer.eachToken.seconds).toBeCloseTo(there.factors['step costs']!, 12)
    const [machine] = skerrySound.machines
    const on = drawn(
      checkPlan({ ...skerrySound, machines: [{ ...machine, provisioningSeconds: 100 }, ...skerrySound.machines.slice(1)], doubt } as Plan),
      machine.name,
    )
    expect(1 / on.plan.machines[0].coreSpeed!).toBeCloseTo(on.factors.arithmetic! / (machine.coreSpeed ?? 1), 9)
    expect(on.plan.machines[0].provisioningSeconds).not.toBe(100)
  })

  it('has step costs that were found as their own intervals have them', () => {
    const values = [0.006, 9e-5, 0.014, 2e-4, 1.2e-7, 0.002]
    const intervals = values.map((v, c) => (c === 2 ? { low: 0.8 * v, high: 1.2 * v } : { low: v, high: v }))
    const correlation = values.map((_, a) => values.map((__, b) => (a === b ? 1 : 0)))
    const measured = { by: 'us', concurrency: 16, input: 900, output: 45, certainty: { way: values[5], intervals, correlation } }
    const profiles = [{ machine: hour.machines[0].name, profile: specOfSteps(values), measured }]
    const models = hour.models.map((m) =>
      m.name === hour.services[0].model ? { ...m, variants: m.variants.map((v) => ({ ...v, profiles })) } : m,
    )
    const plan = checkPlan({ ...hour, models } as Plan)
    const of = (n: number) => {
      const { plan: world } = worldOf(plan, n)
      return world.models.find((m) => m.name === hour.services[0].model)!.variants.find((v) => v.name === '8-bit')!.profiles![0]
        .profile as ReturnType<typeof specOfSteps>
    }
    const drawn = Array.from({ length: 500 }, (_, n) => of(n))
    const memory = Float64Array.from(drawn, (d) => Math.abs((d.memorySeconds as number) / values[2] - 1))
    expect(percentileOf(memory, 0.95)! / 0.2).toBeCloseTo(1, 0.5)
    for (const d of drawn) expect(d.prefillSecondsPerToken).toBeCloseTo(values[1], 12)
    // What is told to decide is what was drawn.
    const factors = worldOf(plan, 9).factorsAt('pilot talk', { machine: hour.machines[0].name, variant: '8-bit' })
    expect(factors['step costs']).toBeCloseTo(((drawn[9].memorySeconds as number) + 200 * values[1]) / (values[2] + 200 * values[1]), 9)
  })
})

describe('a chosen configuration in worlds', () => {
  it('without doubt is kept in all of them where it meets, with nothing that decides', () => {
    const { load, name, sized } = answered(hour)
    const report = last(worlds({ ...hour, doubt: SURE }, name, sized, load, 6))
    expect(report).toMatchObject({ settled: 6, of: 6, kept: 6, deciding: [] })
    expect(worldsWords({ ...hour, doubt: SURE }, report)[0]).toMatch(/^Every promise is kept in 6 of 6 worlds/)
    expect(worldsWords({ ...hour, doubt: SURE }, report)[2]).toContain('Nothing that is in doubt decides it')
    expect(worldsWords({ ...hour, doubt: SURE }, { ...report, of: 100 })).toHaveLength(2)
  })

  it('is kept in as many as keep it when each is run by itself; what decides is what was moved', () => {
    const { load, name, sized } = answered(hour)
    const plan: Plan = { ...hour, doubt: { derived: 0.9, typed: 0, startUp: 0, load: 0 } }
    const steps = [...worlds(plan, name, sized, load, 40)]
    const report = steps.at(-1)!
    expect(steps).toHaveLength(40)
    const alone = Array.from({ length: 40 }, (_, n) => {
      const { plan: world } = worldOf(plan, n)
      const spec = specOf(world, name, sized.option, sized.machines)!
      const { readings } = wholeRun(world, spec, new Load(plan).of(spec.service, n % 2), n % 2)
      return Math.max(...readings.map(({ value }, i) => strainOf(value!, targetsOf(world, spec.service)[i].target, 0)))
    })
    expect(report.strains).toEqual(alone)
    expect(report.kept).toBe(alone.filter((s) => s <= 1).length)
    expect(report.kept).toBeGreaterThan(0)
    expect(report.kept).toBeLessThan(40)
    expect(report.deciding.map((d) => d.what)).toContain('bandwidth')
    expect(report.deciding[0].share).toBeGreaterThan(0.3)
    expect(report.low).toBeLessThan(report.kept / 40)
    expect(worldsWords(plan, report).join(' ')).toMatch(/What decides most is .*of the spread/)
  })

  it('with a load in doubt is decided by the load', () => {
    const plan: Plan = checkPlan({ ...oneConfiguration, doubt: { derived: 0, typed: 0, startUp: 0, load: 0.6 } } as Plan)
    const { load, name, sized } = answered(hour)
    const report = last(worlds({ ...hour, doubt: plan.doubt }, name, sized, load, 30))
    expect(report.deciding.map((d) => d.what)).toEqual(['load'])
    expect(worldsWords(plan, report)[1]).toContain('the load 60')
  })
})
