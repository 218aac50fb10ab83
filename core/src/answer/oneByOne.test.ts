import { describe, expect, it } from 'vitest'
import { boughtPlan, smallPlan } from '../../test/smallPlan.ts'
import { checkPlan } from '../plan/read.ts'
import type { Plan } from '../plan/schema.ts'
import { RandomStream } from '../random/stream.ts'
import { enumerate } from '../candidate/enumerate.ts'
import { Load } from '../search/load.ts'
import type { RunSpec } from '../run/spec.ts'
import { wholeRun } from '../run/wholeRun.ts'
import { differencesOf, oneByOne } from './oneByOne.ts'

const plan = checkPlan(boughtPlan(new RandomStream(3, 'ways'), 1))
const [service] = plan.services
const load = new Load(plan)
const specs = enumerate(plan, service)
  .filter((c) => c.fit.fits && c.maxGroups > 1)
  .map((candidate): RunSpec => ({ service, candidate, groups: candidate.policy ? candidate.maxGroups : 1 }))

/** Weights of 8 bits that are reckoned with in 16, so that the smallest machine runs them. */
const reckonedIn16 = (p: Plan): Plan => ({
  ...p,
  models: p.models.map((m) => ({ ...m, variants: m.variants.map((v) => ({ ...v, arithmeticBits: 16 })) }) as typeof m),
})

describe('the way from one run to another', () => {
  it('changes one thing at a time, and its steps add up to the whole difference', () => {
    const random = new RandomStream(4, 'pairs')
    const pick = () => specs[Math.floor(random.next() * specs.length)]
    let complete = 0
    for (let n = 0; n < 25; n++) {
      const [a, b] = [pick(), pick()]
      const way = [...oneByOne(plan, a, b, load)].at(-1)!
      const differences = differencesOf(a, b)
      expect(way.of).toBe(differences.length)
      expect(way.steps.map((s) => s.what).sort()).toEqual(differences.map((d) => d.what).sort())
      const [first, last] = [a, b].map((s) => wholeRun(plan, s, load.of(service, 0)).perHour)
      expect(way.before.perHour).toBeCloseTo(first, 9)
      if (way.steps.length > 0) expect(way.steps.at(-1)!.effect?.perHour).toBeCloseTo(last, 9)
      for (const s of way.steps) expect(s.effect === null).toBe(s.reason !== '')
      if (way.steps.every((s) => s.effect)) complete++
    }
    expect(complete).toBeGreaterThan(10)
  })

  it('of a run to itself is no way at all', () => {
    expect([...oneByOne(plan, specs[0], specs[0], load)].at(-1)).toMatchObject({ of: 0, steps: [] })
  })

  it('takes the changes in an order in which every run between fits', () => {
    const like = (c: RunSpec['candidate'], d: RunSpec['candidate']) =>
      c.devices === d.devices && c.purchase.kind === d.purchase.kind && c.policy === d.policy && c.sequences === d.sequences
    const random = new RandomStream(5, 'narrow')
    const found = Array.from({ length: 12 }, (_, n) => checkPlan(reckonedIn16(smallPlan(random, n))))
      .map((p) => {
        const all = enumerate(p, p.services[0])
        const there = all
          .filter((c) => c.fit.fits && c.maxGroups > 0)
          .map((candidate): RunSpec => ({ service: p.services[0], candidate, groups: 1 }))
        const pairs = there.flatMap((a) =>
          there
            .filter(
              (b) =>
                like(a.candidate, b.candidate) &&
                a.candidate.machine !== b.candidate.machine &&
                a.candidate.variant !== b.candidate.variant,
            )
            .map((b) => ({ a, b })),
        )
        // The variant of the second has no room on the machine of the first: the machine has to come first.
        return {
          p,
          narrow: pairs.filter(({ a, b }) =>
            all.some((c) => like(c, a.candidate) && c.machine === a.candidate.machine && c.variant === b.candidate.variant && !c.fit.fits),
          ),
        }
      })
      .find((f) => f.narrow.length > 0)!
    const { p, narrow } = found
    const itsLoad = new Load(p)
    for (const { a, b } of narrow.slice(0, 5)) {
      const way = [...oneByOne(p, a, b, itsLoad)].at(-1)!
      const order = way.steps.map((s) => s.what).filter((w) => w === 'machine' || w === 'variant')
      if (way.steps.every((s) => s.effect)) expect(order).toEqual(['machine', 'variant'])
      else
        expect(
          way.steps
            .filter((s) => !s.effect)
            .map((s) => s.reason)
            .join(),
        ).toMatch(/\d|not/)
    }
  })
})
