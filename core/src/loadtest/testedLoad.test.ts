import { expect, it } from 'vitest'
import { skerrySound } from '../../../examples/make/skerrySound.ts'
import { makeRequests } from '../../test/makeRequests.ts'
import { checkPlan } from '../plan/read.ts'
import { testedClass, type Sent } from './testedLoad.ts'

const plan = checkPlan({
  ...skerrySound,
  classes: skerrySound.classes.map((c) =>
    c.input ? { ...c, arrivals: { kind: 'log' }, input: { kind: 'log' }, output: { kind: 'log' } } : c,
  ),
})
const [service] = plan.services
const [own] = plan.classes
const requests = makeRequests(Array.from({ length: 10 }, (_, i) => [i, 10 * (i + 1), i + 1]))
it('of a conversation sends prompts with what was said before', () => {
  const turns = { count: { kind: 'fixed' as const, value: 3 }, pauseSeconds: 5, historyTokens: 4000 }
  const talking = checkPlan({ ...skerrySound, classes: skerrySound.classes.map((c, i) => (i === 0 ? { ...c, turns } : c)) })
  const sent = testedClass(talking, { className: own.name, sent: 'as drawn' }, service, requests)
  expect(sent?.input).toMatchObject({ kind: 'empirical', values: [10, 20, 30, 40, 50, 60, 70, 80, 90, 100] })
  expect(sent?.output).toEqual(skerrySound.classes[0].output)
  expect(sent?.turns).toBeUndefined()
})

const sent = (how: Sent, from = requests) => testedClass(plan, { className: own.name, sent: how }, service, from)

it('of a log sends what the log has, or one that is short or long for it', () => {
  expect(sent('as drawn')).toMatchObject({
    input: { kind: 'empirical', values: [10, 20, 30, 40, 50, 60, 70, 80, 90, 100] },
    output: { kind: 'empirical', values: [1, 2, 3, 4, 5, 6, 7, 8, 9, 10] },
  })
  expect(sent('short')).toMatchObject({ input: { kind: 'fixed', value: 10 }, output: { kind: 'fixed', value: 1 } })
  expect(sent('long')).toMatchObject({ input: { kind: 'fixed', value: 90 }, output: { kind: 'fixed', value: 9 } })
  expect(sent('long', makeRequests([]))).toBeUndefined()
})
