import { describe, expect, it } from 'vitest'
import { skerrySound } from '../../../examples/make/skerrySound.ts'
import { planMoney } from './planMoney.ts'

describe('the money of a whole plan', () => {
  const plan = {
    ...skerrySound,
    horizon: { ...skerrySound.horizon, start: '2027-03-01T00:00:00+02:00' },
    fixedCosts: [{ name: 'balancer', perMonth: 73 }],
    budgetPerMonth: 1500,
    prepaid: 1000,
  }

  it('by hand: 2 an hour of machines and 73 a month beside them, of 1,500 a month, from a balance of 1,000', () => {
    const money = planMoney(plan, 2)
    expect(money.perHour).toBeCloseTo(2.1, 12)
    expect(money.budget).toEqual({ perMonth: 1500, left: expect.closeTo(1500 - 2.1 * 730, 9) as number })
    expect(money.prepaid).toEqual({ balance: 1000, days: expect.closeTo(1000 / 50.4, 9) as number, runsOut: '2027-03-20' })
  })

  it('takes off what services save that commit together', () => {
    const shared = [{ machine: 'twin', services: ['a', 'b'], committedMachines: 2, apartMachines: 3, savedPerMonth: 365 }]
    expect(planMoney(plan, 2, shared).perHour).toBeCloseTo(1.6, 12)
    expect(planMoney(plan, 2, shared).shared).toEqual(shared)
  })

  it('says nothing of what a plan does not state, and of a balance that nothing draws on', () => {
    const { fixedCosts: _, budgetPerMonth: __, ...rest } = plan
    expect(planMoney(rest, 0)).toEqual({ perHour: 0, perMonth: 0, fixed: [], shared: [], budget: null, prepaid: null })
  })
})
