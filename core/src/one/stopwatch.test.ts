import { describe, expect, it } from 'vitest'
import { skerrySound } from '../../../examples/make/skerrySound.ts'
import { checkPlan } from '../plan/read.ts'
import { RandomStream } from '../random/stream.ts'
import type { OneAsked } from './asked.ts'
import { busiestRate } from './likely.ts'
import { isConsistent, prove, READ_FIGURES, READ_WITHIN, type Proof, type Reading } from './stopwatch.ts'
import { worldsOf } from './worlds.ts'

const plan = checkPlan(skerrySound)
const asked: OneAsked = {
  service: 'pilot talk',
  machine: 'Fenland twin',
  variant: '8-bit',
  devices: 2,
  sequences: 16,
  finds: 'warm',
  input: 600,
  output: 60,
  others: 0,
  keptSeconds: 600,
}

function proved(read: readonly Reading[]): Proof {
  const steps = prove(plan, asked, read)
  for (;;) {
    const { value, done } = steps.next()
    if (done) return value
  }
}

describe('what a stopwatch proves', () => {
  it('leaves the truth inside in at least 95 of 100, however often it was read', () => {
    const random = new RandomStream(3, 'readings')
    const truths = worldsOf(plan, asked, 130, 77)
    const known = worldsOf(plan, asked, 1500)
    let [inside, informed] = [0, 0]
    for (const [i, truth] of truths.entries()) {
      const value = (figure: keyof typeof READ_FIGURES, others: number) => {
        const seen = truth.seen(others)
        if (!seen) throw new Error('it is served')
        return { figure, others, value: READ_FIGURES[figure].of(seen, asked) * (1 + (2 * random.next() - 1) * 0.4 * READ_WITHIN) }
      }
      // A third each: one reading, two of one try, and one of four at once beside.
      const read = [value('whole', 0), ...(i % 3 > 0 ? [value('first', 0)] : []), ...(i % 3 > 1 ? [value('whole', 3)] : [])]
      const left = known
        .filter((w) => isConsistent(w, asked, read))
        .slice(0, 60)
        .map((w) => w.capacity())
      // Where hardly any are left it says so instead.
      if (left.length < 8) continue
      informed++
      const bears = truth.capacity()
      // A capacity is halved in on to within 1 in 128 of what a full replica sustains, which is some per cent of what it bears.
      if (bears >= Math.min(...left) * 0.97 && bears <= Math.max(...left) * 1.03) inside++
    }
    expect(informed).toBeGreaterThan(60)
    expect(inside / informed).toBeGreaterThanOrEqual(0.95)
  })

  it('never calls one reading a capacity: more readings leave less, and a next try is told with its price', () => {
    const [truth] = worldsOf(plan, asked, 1, 5)
    const reading = (others: number): Reading => ({ figure: 'whole', others, value: truth.seen(others)!.end })
    const one = proved([reading(0)])
    const two = proved([reading(0), reading(7)])
    if (!one.capacity || !two.capacity) throw new Error('something is left')
    expect(one.capacity.high / one.capacity.low).toBeGreaterThan(1.05)
    expect(two.kept).toBeLessThan(one.kept)
    expect(two.capacity.high - two.capacity.low).toBeLessThanOrEqual(one.capacity.high - one.capacity.low)
    expect(one.replicas?.least).toBe(Math.max(1, Math.ceil(busiestRate(plan, asked.service) / one.capacity.high)))
    if (one.next) {
      expect(one.next.high / one.next.low).toBeLessThan(one.capacity.high / one.capacity.low)
      const machine = plan.machines.find((m) => m.name === asked.machine)!
      expect(one.next.price).toBeCloseTo(((machine.pricePerHour ?? NaN) * one.next.seconds) / 3600, 9)
    }
  })

  it('says that something else took the time where nothing that is thought possible gives it', () => {
    const slow = proved([{ figure: 'whole', value: 900, others: 0 }])
    expect(slow).toMatchObject({ kept: 0, capacity: null, next: null })
    expect(slow.remark).toContain('something else took its time')
  })

  it('wants a reading, above 0', () => {
    expect(() => proved([])).toThrow('reading: is missing: how long did a real try take?')
    expect(() => proved([{ figure: 'whole', value: 0, others: 0 }])).toThrow('reading: must be above 0')
  })
})
