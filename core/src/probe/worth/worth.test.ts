import { describe, expect, it } from 'vitest'
import { skerrySound } from '../../../../examples/make/skerrySound.ts'
import { optionOf } from '../../candidate/optionName.ts'
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
import { enoughFor, worthOfShown } from './shown.ts'
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
const told = (doubt: Plan['doubt'], more: Partial<Plan> = {}): WorldsAndWorth => {
  const plan = { ...hour, doubt, ...more }
  return lastOf(worldsAndWorth(plan, name, sized, new Load(plan), 40))
}

describe('what is worth measuring', () => {
  it('is what a bill is lower by hand: the half of worlds that shows little needs one machine, the other two', () => {
    const worlds = Array.from({ length: 100 }, (_, i) => i)
    const least = worlds.map((i) => (i < 50 ? 1 : 2))
    expect(enoughFor(0.9, least)).toBe(2)
    expect(enoughFor(0.5, least)).toBe(1)
    const of = { least, certainty: 0.9, monthly: (n: number) => 100 * n, machines: (n: number) => 3 * n }
    // Of five parts two are sure to do with one; the middle one is half and half, and needs two.
    const found = worthOfShown({ ...of, shown: worlds }, new RandomStream(1, 'test'))!
    expect(found.savedPerMonth).toBeCloseTo(40, 9)
    expect(found.then.map((t) => t.machines)).toEqual([3, 6])
    expect(found.then[0].share).toBeCloseTo(0.4, 9)
    // What has nothing to do with it saves nothing, and so does what is the same everywhere.
    const random = new RandomStream(2, 'test')
    const other = worlds.map(() => random.next())
    expect(worthOfShown({ ...of, shown: other }, new RandomStream(1, 'test'))).toBeUndefined()
    expect(worthOfShown({ ...of, shown: worlds, least: worlds.map(() => 2) }, new RandomStream(1, 'test'))).toBeUndefined()
  })

  it('rests on the fewest machines of each world, as trying every number has them', () => {
    const plan = { ...hour, doubt: { typed: 0.4 } }
    const spec = specOf(plan, name, sized.option, sized.machines)!
    const holds = (n: number, machines: number) => {
      const world = worldOf(plan, n)
      const there = specOf(world.plan, name, sized.option, machines)!
      const { record } = wholeRun(world.plan, there, new Load(plan).of(there.service, n % 2), n % 2)
      return allHold(world.plan, there.service, readings(world.plan, there.service, record))
    }
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
    expect(none.worth).toMatchObject({ sure: sized.machines, chosen: sized.machines, dearerPerMonth: 0, worth: [] })
    expect(worthWords(hour, none.worth!)[0]).toContain('are also the fewest that hold')
    expect(worthWords(hour, none.worth!).join(' ')).toContain('No measurement would change the number of machines')
    const steps = told({ ...SURE, typed: 0.25 }).worth!
    expect(steps.worth.map((w) => w.what)).toEqual(['step costs'])
    expect(steps.sure ?? steps.most + 1).toBeGreaterThan(sized.machines)
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
})
