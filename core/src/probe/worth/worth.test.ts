import { describe, expect, it } from 'vitest'
import { skerrySound } from '../../../../examples/make/skerrySound.ts'
import { optionOf } from '../../candidate/optionName.ts'
import type { Sized } from '../../answer/levers.ts'
import { recommend } from '../../answer/recommend.ts'
import { allHold, readings } from '../../measure/placedTargets.ts'
import { checkPlan } from '../../plan/read.ts'
import type { Plan } from '../../plan/schema.ts'
import { RandomStream } from '../../random/stream.ts'
import { specOf } from '../../run/specOf.ts'
import { wholeRun } from '../../run/wholeRun.ts'
import { driveHere } from '../../search/drive.ts'
import { Load } from '../../search/load.ts'
import { worldOf } from '../../world/worldOf.ts'
import { leastInWorlds } from './leastInWorlds.ts'
import { ladderOf } from './ladder.ts'
import { enoughFor, rungOf, rungsBeside, type Rung } from './rungs.ts'
import { worthOfShown } from './shown.ts'
import { worldsAndWorth, type WorldsAndWorth } from './worth.ts'
import { worthWords } from './worthWords.ts'

const SURE = { derived: 0, typed: 0, startUp: 0, load: 0 }
const TARGETS = [
  { measure: 'ttft', percentile: 95, seconds: 1.5 },
  { measure: 'latency', percentile: 95, seconds: 40 },
]
const SEARCH = { sequences: [16], devices: [1], machines: ['Northquay ledge'], variants: ['8-bit'] }
const hour: Plan = checkPlan({
  ...skerrySound,
  margin: 0,
  repetitions: 2,
  horizon: { ...skerrySound.horizon, seconds: 2700, warmupSeconds: 300 },
  classes: [{ ...skerrySound.classes[0], arrivals: { kind: 'steady', ratePerSecond: 4 }, targets: TARGETS }],
  services: [{ ...skerrySound.services[0], policies: undefined, start: undefined, search: SEARCH }],
} as Plan)
const { name } = hour.services[0]
const load = new Load(hour)
const { chosen } = driveHere(recommend(hour, load), load).services[0]
const sized = { option: optionOf(chosen!), machines: chosen!.machines }
const lastOf = <T>(steps: Generator<T, T>): T => {
  for (;;) {
    const next = steps.next()
    if (next.done) return next.value
  }
}
const told = (doubt: Plan['doubt'], more: Partial<Plan> = {}, others: Rung[] = []): WorldsAndWorth => {
  const plan = { ...hour, doubt, ...more }
  return lastOf(worldsAndWorth(plan, name, rungOf(chosen!), others, new Load(plan), 40))
}
/** Whether so many machines of an option hold in a world, run by itself. */
function holdsIn(plan: Plan, n: number, { option, machines }: Sized): boolean {
  const world = worldOf(plan, n)
  const there = specOf(world.plan, plan.services[0].name, option, machines)!
  const { record } = wholeRun(world.plan, there, new Load(plan).of(there.service, n % 2), n % 2)
  return allHold(world.plan, there.service, readings(world.plan, there.service, record))
}

describe('what is worth measuring', () => {
  it('is what a bill is lower by hand: the half of worlds that shows little needs one machine, the other two', () => {
    const worlds = Array.from({ length: 100 }, (_, i) => i)
    // What may be rented: one machine, two, three. One holds in the first half, two everywhere.
    const holds = worlds.map((i) => [i < 50, true, true])
    expect(enoughFor(0.9, holds)).toBe(1)
    expect(enoughFor(0.5, holds)).toBe(0)
    expect(
      enoughFor(
        0.9,
        holds.map(() => [false, false, false]),
      ),
    ).toBe(3)
    const of = { holds, certainty: 0.9, perMonth: [100, 200, 300] }
    // Of five parts two are sure to do with one; the middle one is half and half, and needs two.
    const found = worthOfShown({ ...of, shown: worlds }, new RandomStream(1, 'test'))!
    expect(found.savedPerMonth).toBeCloseTo(40, 9)
    expect(found.then.map((t) => t.rung)).toEqual([0, 1])
    expect(found.then[0].share).toBeCloseTo(0.4, 9)
    // What has nothing to do with it saves nothing, and so does what is the same everywhere.
    const random = new RandomStream(2, 'test')
    const other = worlds.map(() => random.next())
    expect(worthOfShown({ ...of, shown: other }, new RandomStream(1, 'test'))).toBeUndefined()
    expect(
      worthOfShown({ ...of, shown: worlds, holds: worlds.map(() => [false, true, true]) }, new RandomStream(1, 'test')),
    ).toBeUndefined()
    // Where another machine holds just where the cheaper one does not, neither needs the dearest once it is known which world it is.
    const either = { ...of, holds: worlds.map((i) => [i < 50, i >= 50, true]), shown: worlds }
    const chosen = worthOfShown(either, new RandomStream(1, 'test'))!
    expect(chosen.then.map((t) => t.rung)).toEqual([0, 1, 2])
    // Two parts at 100, two at 200, the mixed one at 300: 180 in the mean, in place of 300 everywhere.
    expect(chosen.savedPerMonth).toBeCloseTo(120, 9)
    // Where a dearer one breaks what a cheaper one keeps, nothing that would do for all stands for less than the dearest.
    const mixed = worlds.map((i) => (i < 50 ? [false, true, false] : [false, false, true]))
    const none = worthOfShown({ ...of, holds: mixed, shown: worlds }, new RandomStream(1, 'test'))!
    expect(none.then.map((t) => t.rung)).toEqual([1, 2, null])
    expect(none.savedPerMonth).toBeCloseTo(40, 9)
  })

  it('rests on the fewest machines of each world, as trying every number has them', () => {
    const plan = { ...hour, doubt: { typed: 0.4 } }
    const spec = specOf(plan, name, sized.option, sized.machines)!
    const holds = (n: number, machines: number) => holdsIn(plan, n, { ...sized, machines })
    const numbers = Array.from({ length: 16 }, (_, n) => n)
    const most = sized.machines * 2 + 2
    const tried = numbers.map((n) => Array.from({ length: most }, (_, i) => i + 1).find((m) => holds(n, m)) ?? Infinity)
    const held = numbers.map((n) => holds(n, sized.machines))
    const found = lastOf(
      leastInWorlds(plan, name, sized, { groups: spec.groups, maxGroups: spec.candidate.maxGroups, machines: (g) => g }, held, load),
    )
    expect(found).toEqual(tried.map((m) => (m > spec.candidate.maxGroups ? Infinity : m)))
    expect(new Set(found).size).toBeGreaterThan(1)
  })

  it('is what is in doubt, and nothing where nothing is', () => {
    const none = told(SURE)
    expect(none.worth).toMatchObject({ sure: { machines: sized.machines }, chosen: sized, dearerPerMonth: 0, worth: [] })
    expect(worthWords(hour, none.worth!)[0]).toContain('are also the fewest that hold')
    expect(worthWords(hour, none.worth!).join(' ')).toContain('No measurement would change the number of machines')
    const steps = told({ ...SURE, typed: 0.25 }).worth!
    expect(steps.worth.map((w) => w.what)).toEqual(['step costs'])
    expect(steps.sure?.machines ?? Infinity).toBeGreaterThan(sized.machines)
    expect(steps.worth[0].savedPerMonth).toBeGreaterThan(0)
    const words = worthWords(hour, steps).join(' ')
    if (steps.sure !== null)
      expect(words).toMatch(/To hold in 90\s% of the worlds it takes \d machines in place of \d, [\d\s.]+\sEUR a month more\./)
    expect(words).toMatch(
      /Worth most is to measure step costs \(\d+ calls, up to 16 at once, on one .+, about .+ and [\d.]+\sEUR\): it would decide between [^(]+ machines \(.+ of what it may show\), worth [\d\s.]+\sEUR a month in the mean\./,
    )
    expect(told({ ...SURE, load: 0.6 }).worth!.worth.map((w) => w.what)).toEqual(['load'])
    expect(told({ derived: 0.2, typed: 0.4, load: 0.3 }, { certainty: 0.7 }).worth!.certainty).toBe(0.7)
  })

  it('is between machines as well, of fleets that follow the load too: each of them is run in each world', () => {
    const services = hour.services.map((s) => ({
      ...s,
      policies: [{ name: 'follows', min: 1, max: 4, metrics: [{ metric: 'in-flight', target: 12 }] }],
      search: { ...SEARCH, machines: ['Northquay ledge', 'Firth ledge', 'Tarn four'], purchases: ['on-demand', 'spot'] },
    })) as Plan['services']
    const plan = checkPlan({ ...hour, doubt: { typed: 0.4, derived: 0.4 }, services } as Plan)
    const load = new Load(plan)
    const [answer] = driveHere(recommend(plan, load), load).services
    const mine = rungOf(answer.chosen!)
    const others = rungsBeside(answer)
    expect(others.length).toBeGreaterThan(1)
    const { candidate } = specOf(plan, name, mine.option, mine.machines)!
    const numbers = Array.from({ length: 12 }, (_, n) => n)
    const held = numbers.map((n) => holdsIn(plan, n, mine))
    const { rungs, holds } = ladderOf(plan, name, mine, others, candidate, held, load)
    expect(rungs.map((r) => r.perMonth)).toEqual(rungs.map((r) => r.perMonth).sort((a, b) => a - b))
    expect(new Set(rungs.map((r) => r.option.machine)).size).toBeGreaterThan(1)
    expect([...holds]).toEqual(numbers.map((n) => rungs.map((r) => holdsIn(plan, n, r))))
    const report = lastOf(worldsAndWorth(plan, name, mine, others, load, 40)).worth!
    expect(report.settled).toBe(40)
    const words = worthWords(plan, report)
    expect(words[0]).toMatch(/^(To hold in|In) 90\s% of the worlds|^(Neither what is chosen|.+ × .+ is also the cheapest)/)
    expect(words.join(' ')).not.toMatch(/undefined|NaN|null/)
  })
})
