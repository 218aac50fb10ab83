import { expect, it } from 'vitest'
import { skerrySound } from '../../../examples/make/skerrySound.ts'
import { checkPlan } from '../plan/read.ts'
import type { Plan, Service } from '../plan/schema.ts'
import { configured } from './configured.ts'
import { preparationOf, preparationTable, preparationWords } from './preparation.ts'

const preparing = (preparation: Service['preparation']): Plan => {
  const [first, ...others] = skerrySound.services
  return checkPlan({ ...skerrySound, services: [{ ...first, preparation }, ...others] } as Plan)
}
function candidateOf(plan: Plan) {
  const [service] = plan.services
  const ready = configured(plan, service, { machine: 'Fenland twin', variant: '8-bit', devices: 2, sequences: 8, replicas: 1 })
  if (!ready.ok) throw new Error('it fits')
  return ready.spec.candidate
}

it('by hand: fetched once on a machine of one’s own, built for each version on one that is rented by the minute', () => {
  const plan = preparing([
    { name: 'fetching', when: 'once', seconds: 0, bytes: 60e9, bytesPerSecond: 1e8 },
    { name: 'compiling', when: 'each-version', seconds: 750, on: 'Fenland twin' },
  ])
  const candidate = candidateOf(plan)
  const found = preparationOf(plan, candidate)!
  const { pricePerHour, billingStepSeconds } = plan.machines.find((m) => m.name === 'Fenland twin')!
  expect(billingStepSeconds).toBe(60)
  const compiling = (780 / 3600) * pricePerHour! // thirteen minutes are paid, three more than the least
  expect(found.steps.map((s) => [s.seconds, s.cost])).toEqual([
    [600, 0],
    [750, expect.closeTo(compiling, 9)],
  ])
  expect(found.firstGo.seconds).toBeCloseTo(1350 + found.start.seconds, 9)
  expect(found.newVersion).toEqual({
    seconds: expect.closeTo(750 + found.start.seconds, 9),
    cost: expect.closeTo(compiling + found.start.cost, 9),
  })
  expect(preparationWords(found, 'pilot talk', 'EUR')).toMatch(
    /^Before pilot talk answers its very first request lie .+ and .+, and at each change/,
  )
  expect(preparationTable(found, 'EUR').rows).toHaveLength(5)
  expect(preparationOf(checkPlan(skerrySound), candidateOf(checkPlan(skerrySound)))).toBeUndefined()
})

it('what can not be reckoned is refused', () => {
  expect(() => preparing([{ name: 'x', when: 'once', seconds: -1 }])).toThrow(/preparation\[0\]\.seconds is -1/)
  expect(() => preparing([{ name: 'x', when: 'once', seconds: 0, bytes: 1e9 }])).toThrow(/bytesPerSecond/)
  expect(() => preparing([{ name: 'x', when: 'once', seconds: 1, on: 'nobody' }])).toThrow(
    /preparation\[0\]\.on is "nobody": it must be a name/,
  )
})
