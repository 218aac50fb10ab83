import { checkPlan, writePlan } from '@sandclock/core'
import { expect, it } from 'vitest'
import { demoPlan } from './demo.ts'

it('the demo plan is as a check of it would give it, to the order of its fields: it is opened without one', () => {
  expect(writePlan(demoPlan)).toBe(writePlan(checkPlan(structuredClone(demoPlan))))
})
