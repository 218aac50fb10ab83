import fc from 'fast-check'
import { expect, it } from 'vitest'
import { skerrySound } from '../../../examples/make/skerrySound.ts'
import { checkPlan } from '../plan/read.ts'
import type { LifeRecord } from '../life/startRules.ts'
import { configured } from './configured.ts'
import { machinesNeeded, neededWords } from './machinesNeeded.ts'

const plan = checkPlan(skerrySound)
const [service] = plan.services
function candidateOn(machine: string, replicas = 1) {
  const ready = configured(plan, service, { machine, variant: '4-bit', sequences: 8, replicas })
  if (!ready.ok) throw new Error('it fits')
  return ready.spec
}
const life = (nodes: [number, number][]) =>
  ({ nodes: nodes.map(([from, until]) => ({ from, until, spot: false })) }) as unknown as LifeRecord
const { candidate } = candidateOn('Fenland twin')

it('by hand: two services on one offer, one fixed, the other at most two at a time', () => {
  const runs = [
    { candidate, groups: 2, life: null },
    {
      candidate,
      groups: 9,
      life: life([
        [0, 100],
        [50, 90],
        [90, 200],
      ]),
    },
  ]
  // At 90 s one has gone before another comes.
  const [needed] = machinesNeeded(runs)
  expect(needed).toMatchObject({ machine: 'Fenland twin', most: 4, atSeconds: 50, services: [service.name, service.name] })
  const [words] = neededWords(plan, [needed])
  expect(words).toMatch(
    /^Fenland has to be asked for 4 × Fenland twin \(Fenland, \w+\), each with [\d.]+\sGB of disk before Mon 00:00, for pilot talk and pilot talk: \d+ can be had at once/,
  )
  expect(neededWords(plan, [{ ...needed, atSeconds: 0, most: needed.stock, quota: null }])[0]).toMatch(
    /before it begins, .+, so that nothing is left$/,
  )
})

it('is the most that any moment has of all stays', () => {
  const stay = fc.tuple(fc.integer({ min: 0, max: 50 }), fc.integer({ min: 1, max: 30 }))
  fc.assert(
    fc.property(fc.array(stay, { minLength: 1, maxLength: 30 }), (stays) => {
      const nodes = stays.map(([from, seconds]): [number, number] => [from, from + seconds])
      const [{ most, atSeconds }] = machinesNeeded([{ candidate, groups: 99, life: life(nodes) }])
      const there = (t: number) => nodes.filter(([from, until]) => from <= t && t < until).length
      const counts = Array.from({ length: 81 }, (_, t) => there(t))
      expect(most).toBe(Math.max(...counts))
      expect(atSeconds).toBe(counts.indexOf(most))
    }),
    { seed: 1 },
  )
})
