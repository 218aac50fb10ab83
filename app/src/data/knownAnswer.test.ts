// @vitest-environment happy-dom
import 'fake-indexeddb/auto'
import { readFileSync } from 'node:fs'
import { carriedOver, CORE_VERSION, type Answer } from '@sandclock/core'
import { beforeEach, expect, it } from 'vitest'
import { database, keepAnswer } from './database.ts'
import { isKept, knownAnswer } from './knownAnswer.ts'

/** An answer as it is kept. */
const { planText: text, answer } = JSON.parse(readFileSync('app/test/version1.json', 'utf8')) as { planText: string; answer: object }
const answerOf = (coreVersion: string) => ({ ...(carriedOver(answer) as Answer), coreVersion })
const asked = { planId: 'old', text }
const points = { 'pilot talk': [] }
const known = () =>
  knownAnswer(asked, () => {
    throw new Error('it can be read')
  })

beforeEach(async () => {
  await Promise.all([database.answers.clear(), database.frontiers.clear()])
  await keepAnswer(asked, answerOf(CORE_VERSION))
})

it('an answer that is kept is known with the points around it, and without those of another plan', async () => {
  expect(await known()).toMatchObject({ ...asked, frontiers: {} })
  await database.frontiers.put({ planId: 'old', planText: text, points })
  const found = await known()
  expect(found).toMatchObject({ frontiers: points })
  expect(found && isKept(found)).toBe(true)
  await database.frontiers.put({ planId: 'old', planText: `${text} `, points })
  expect(await known()).toMatchObject({ frontiers: {} })
})

it('of another text nothing is known, nor of an answer that a former core gave', async () => {
  expect(await knownAnswer({ ...asked, text: `${text} ` }, () => Promise.resolve())).toBeUndefined()
  await keepAnswer(asked, answerOf('before'))
  expect(await known()).toBeUndefined()
})
