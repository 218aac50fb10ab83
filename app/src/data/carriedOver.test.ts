// @vitest-environment happy-dom
import 'fake-indexeddb/auto'
import { readFileSync } from 'node:fs'
import { CORE_VERSION, driveHere, Load, recommend } from '@sandclock/core'
import { createPinia, setActivePinia } from 'pinia'
import { expect, it } from 'vitest'
import { shallowRef } from 'vue'
import { useRunChoices } from '../composables/useRunChoices.ts'
import { useAnswerStore } from '../stores/answerStore.ts'
import { MOST_PINS, usePinStore } from '../stores/pinStore.ts'
import { usePlanStore } from '../stores/planStore.ts'
import { database } from './database.ts'

/** A plan, its answer and two pinned runs as the browser kept them when the answer's format had version 1. */
const kept = JSON.parse(readFileSync('app/test/version1.json', 'utf8')) as {
  planText: string
  answer: object
  pins: Record<string, { key: string; words: string }[]>
}

it('a database of version 1 opens with its answer and its pins, which are those that a search finds today', async () => {
  localStorage.clear()
  await Promise.all([database.plans.clear(), database.answers.clear(), database.thrown.clear()])
  await database.plans.put({ id: 'old', name: 'Kept since version 1', text: kept.planText, updatedAt: 1, revision: 3 })
  // Of a former core it would be searched anew, which is another matter than its format.
  await database.answers.put({ planId: 'old', planText: kept.planText, answer: { ...kept.answer, coreVersion: CORE_VERSION } })
  localStorage.setItem('sand-clock-pins', JSON.stringify(kept.pins))
  setActivePinia(createPinia())

  const plans = usePlanStore()
  await plans.start()
  expect(plans.id).toBe('old')
  const answers = useAnswerStore()
  await answers.answerTo('old', plans.plan, undefined)
  // Nothing could be searched here: there are no workers.
  expect(answers.failure).toBe('')
  answers.stop()
  const today = driveHere(recommend(plans.plan, new Load(plans.plan)), new Load(plans.plan))
  // What callers met, and zones, came later and are none there.
  const without = { ...today, services: today.services.map((s) => ({ ...s, met: [] })) }
  const old = (answer: unknown) => JSON.parse(JSON.stringify(answer, (key, value) => (key === 'zone' ? undefined : value)))
  expect(old({ ...answers.answer, plan: null })).toEqual(old({ ...without, plan: null }))
  expect(answers.answer?.plan).toEqual(JSON.parse(JSON.stringify(today.plan)))

  const pins = usePinStore().pinsOf('old', 'pilot talk')
  const { choices } = useRunChoices(shallowRef(today.services[0]))
  expect(pins.map((p) => p.words)).toEqual(kept.pins['old pilot talk'].map((p) => p.words))
  expect(pins.map((p) => p.key)).toEqual(choices.value.slice(0, 2).map((c) => c.key))
  expect(await database.thrown.count()).toBe(0)
})

it('a run that was unpinned then is pinned again; what has no room, or can not be read, says so', () => {
  localStorage.clear()
  setActivePinia(createPinia())
  const [first, second] = kept.pins['old pilot talk']
  const store = usePinStore()
  const restore = (choice: unknown) => store.restore({ planId: 'other', service: 'pilot talk', choice })
  expect([restore(first), restore(second), restore(first)]).toEqual([true, true, true])
  expect(store.pinsOf('other', 'pilot talk').map((p) => p.name.option.purchase.kind)).toHaveLength(2)
  expect(restore({ key: 'x' })).toBe(false)
  const [one] = store.pinsOf('other', 'pilot talk')
  store.set(
    'other',
    'pilot talk',
    Array.from({ length: MOST_PINS }, (_, i) => ({ ...one, key: String(i) })),
  )
  expect(restore(second)).toBe(false)
  expect(store.pinsOf('other', 'pilot talk')).toHaveLength(MOST_PINS)
})
