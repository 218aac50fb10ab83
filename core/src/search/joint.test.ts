import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { bought } from '../../test/fleets.ts'
import { solve } from '../../test/solver.ts'
import { bestCommitted, perHourByCommitted } from '../cost/bill.ts'
import type { LifeRecord } from '../life/startRules.ts'
import type { Machine } from '../plan/machineSchema.ts'
import type { Found } from './found.ts'
import { chooseTogether, type JointChoice } from './joint.ts'
import type { Choices } from './sharedPlaces.ts'

const HORIZON = 3600
const PRICES = { onDemandPerHour: 2, spotPerHour: 0.6 }

/** What one draw's groups did: from when until when each was there, in the order in which they were ordered. */
type Stays = [from: number, until: number][]

const machineOf = (name: string, committedPerHour: number, more: Partial<Machine> = {}) =>
  ({ name, pricePerHour: PRICES.onDemandPerHour, committedPerHour, stock: 100, ...more }) as Machine

/** An option as a search finds it, of groups that came and went. */
function found(machine: Machine, draws: Stays[], { width = 1, steps = 1 } = {}): Found {
  const how = bought('committed', {
    onDemandPerHour: PRICES.onDemandPerHour * width,
    committedPerHour: (machine.committedPerHour ?? 0) * width,
    billingStepSeconds: steps,
    storagePerHour: 0.01,
  })
  const lives = draws.map((stays): LifeRecord => ({
    events: [],
    stopped: [],
    fetched: [],
    wanted: [],
    readings: { seconds: [], values: [] },
    nodes: stays.map(([from, until]) => ({ from, until, spot: false })),
  }))
  const byCommitted = lives.map((life) => perHourByCommitted(how, life, HORIZON))
  return {
    candidate: { machine, group: { machines: width, replicas: 1, boundBy: 'devices' }, ...how },
    ...bestCommitted(byCommitted, how.prices),
    machines: width * Math.max(0, ...byCommitted.map((b) => b.length - 1)),
    uncommittedPerHour: byCommitted.reduce((sum, b) => sum + b[0], 0) / draws.length,
    committable: draws.map((stays) => stays.flat()),
  } as unknown as Found
}

function choose(choices: Choices): JointChoice | undefined {
  const search = chooseTogether(choices, HORIZON)
  for (let step = search.next(); ;) {
    if (step.done) return step.value
    if (!('solve' in step.value)) throw new Error('it asked for something else')
    step = search.next(solve(step.value.solve))
  }
}

const costOf = ({ chosen, shared }: JointChoice) =>
  chosen.reduce((sum, f) => sum + (f?.perHour ?? 0), 0) - shared.reduce((sum, s) => sum + s.savedPerHour, 0)

/** What options cost that fill the places of a machine together, second by second of every order, with so many committed to. */
function pricedByHand(options: readonly Found[], committed: number): number {
  const draws = options[0].committable.length
  let paid = 0
  for (let d = 0; d < draws; d++) {
    const stays = options
      .flatMap((o) =>
        Array.from({ length: o.committable[d].length / 2 }, (_, i) => ({
          o,
          from: o.committable[d][2 * i],
          until: o.committable[d][2 * i + 1],
        })),
      )
      .sort((a, b) => a.from - b.from)
    const covered = new Map<(typeof stays)[number], number>()
    for (let second = 0; second < HORIZON; second++) {
      // Those who are there, in the order in which they came, take what is free.
      for (const stay of stays) {
        if (stay.from > second || stay.until <= second || covered.has(stay)) continue
        const taken = [...covered.keys()].reduce((sum, c) => sum + (c.until > second ? c.o.candidate.group.machines : 0), 0)
        if (taken + stay.o.candidate.group.machines <= committed) covered.set(stay, second)
      }
    }
    for (const stay of stays) {
      const {
        o: {
          candidate: { prices },
        },
        from,
        until,
      } = stay
      const seconds = (covered.get(stay) ?? until) - from
      paid +=
        (!covered.has(stay) && until >= HORIZON ? seconds : Math.ceil(seconds / prices.billingStepSeconds) * prices.billingStepSeconds) *
        prices.onDemandPerHour
      paid += (until - from) * 0.01
    }
  }
  return paid / draws / HORIZON + committed * (options[0].candidate.machine.committedPerHour ?? 0)
}

/** Every choice, every number: the least that fits the stock. */
function tryAll(choices: Choices): number {
  const descend = (chosen: Found[]): number => {
    if (chosen.length < choices.length) return Math.min(...choices[chosen.length].map((f) => descend([...chosen, f])))
    const byMachine = new Map<Machine, Found[]>()
    for (const f of chosen) byMachine.set(f.candidate.machine, [...(byMachine.get(f.candidate.machine) ?? []), f])
    let cost = 0
    for (const [machine, some] of byMachine) {
      if (some.reduce((sum, f) => sum + f.machines, 0) > machine.stock) return Infinity
      const apart = some.reduce((sum, f) => sum + f.perHour, 0)
      cost += some.length === 1 ? apart : Math.min(apart, ...Array.from({ length: 20 }, (_, c) => pricedByHand(some, c)))
    }
    return cost
  }
  return descend([])
}

const stays = fc
  .array(fc.tuple(fc.integer({ min: 0, max: 3000 }), fc.integer({ min: 1, max: 3600 })), { minLength: 1, maxLength: 5 })
  .map((list): Stays =>
    list.map(([from, length]): [number, number] => [from, Math.min(HORIZON, from + length)]).sort((a, b) => a[0] - b[0]),
  )

describe('choosing for several services together', () => {
  it('by hand: one wants a machine in the first half of the time, the other in the second; one place serves both', () => {
    const twin = machineOf('twin', 1.2)
    const choice = choose([[found(twin, [[[0, 1800]]])], [found(twin, [[[1800, 3600]]])]])
    // Apart each pays half an hour at 2; together one place at 1.2.
    expect(choice?.shared).toMatchObject([{ machine: 'twin', committedMachines: 1, savedPerHour: expect.closeTo(2 - 1.2, 9) as number }])
  })

  it('a dearer option is taken where what is shared makes it cheaper for all', () => {
    const [twin, lone] = [machineOf('twin', 1.2), machineOf('lone', 3)]
    const choice = choose([[found(twin, [[[0, 1800]]])], [found(lone, [[[1800, 3500]]]), found(twin, [[[1800, 3600]]])]])
    expect(choice?.chosen.map((f) => f?.candidate.machine.name)).toEqual(['twin', 'twin'])
    expect(choice && costOf(choice)).toBeCloseTo(1.2 + 0.01, 9)
  })

  it('asks no solver where services have nothing to do with each other, and says when the ranked ones can not be had together', () => {
    const [a, b] = [machineOf('a', 1), machineOf('b', 1, { stock: 1 })]
    expect(choose([[found(a, [[[0, 3600]]])], [], [found(b, [[[0, 3600]]])]])?.chosen.map((f) => f?.candidate.machine.name)).toEqual([
      'a',
      undefined,
      'b',
    ])
    expect(choose([[found(b, [[[0, 3600]]])], [found(b, [[[0, 3600]]])]])).toBeUndefined()
    const lone = machineOf('lone', 1, { ceilings: { oneModel: true } })
    expect(
      choose([[found(lone, [[[0, 1800]]])], [found(lone, [[[0, 1800]]]), found(a, [[[0, 3600]]])]])?.chosen.map(
        (f) => f?.candidate.machine.name,
      ),
    ).toEqual(['lone', 'a'])
  })

  it('costs what the best of every choice and every number costs, tried one after the other', () => {
    const seen = { saved: 0, passedOver: 0, none: 0 }
    const option = fc.record({
      machine: fc.integer({ min: 0, max: 1 }),
      draws: fc.tuple(stays, stays),
      width: fc.integer({ min: 1, max: 2 }),
      steps: fc.constantFrom(1, 60, 900),
    })
    const services = fc.array(fc.array(option, { minLength: 1, maxLength: 3 }), { minLength: 2, maxLength: 3 })
    fc.assert(
      fc.property(
        services,
        fc.double({ min: 0.1, max: 1.9, noNaN: true }),
        fc.integer({ min: 2, max: 12 }),
        (list, committedPerHour, stock) => {
          const machines = [machineOf('a', committedPerHour, { stock }), machineOf('b', 1.1, { stock: 6 })]
          const choices = list.map((options) =>
            options.map((o) => found(machines[o.machine], o.draws, o)).sort((x, y) => x.perHour - y.perHour),
          )
          const choice = choose(choices)
          const least = tryAll(choices)
          if (!choice) {
            seen.none++
            expect(least).toBe(Infinity)
            return
          }
          if (choice.shared.length > 0) seen.saved++
          if (choice.chosen.some((f, i) => f !== choices[i][0])) seen.passedOver++
          expect(costOf(choice)).toBeCloseTo(least, 6)
        },
      ),
      { numRuns: 60, seed: 7 },
    )
    expect(Math.min(seen.saved, seen.passedOver, seen.none)).toBeGreaterThan(5)
  })
})
