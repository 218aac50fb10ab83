// @vitest-environment happy-dom
import 'fake-indexeddb/auto'
import { writePlan } from '@sandclock/core'
import { readFileSync } from 'node:fs'
import { createPinia, setActivePinia } from 'pinia'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { database } from '../data/database.ts'
import { demoPlan } from '../data/demo.ts'
import { PlanKeeper } from '../data/planKeeper.ts'
import { editTarget, type Edit } from '../edits/edits.ts'
import { removeMachines, removeMeasurement } from '../edits/marketEdits.ts'
import { useThrown } from '../composables/useThrown.ts'
import { usePlanStore } from './planStore.ts'
import { useRemarkStore } from './remarkStore.ts'
import { useThrownStore } from './thrownStore.ts'

const thrown = useThrownStore

const harder: Edit = editTarget('pilot desk', 0, (t) => (t.measure === 'ttft' ? { ...t, seconds: 0.3 } : t))
const impossible: Edit = (plan) => ({ ...plan, seed: -1 })
const saved = async () => (await database.plans.toArray()).map((p) => p.text)

beforeEach(async () => {
  await Promise.all([database.plans, database.answers, database.journal, database.thrown, database.logs].map((t) => t.clear()))
  localStorage.clear()
  setActivePinia(createPinia())
})

// The note of an edit goes last, and would be taken up by whoever starts next.
afterEach(() => expect.poll(() => database.journal.count()).toBe(0))

async function started() {
  const store = usePlanStore()
  await store.start()
  return store
}

describe('planStore', () => {
  it('opens the demo the first time, and the plan of last time after that', async () => {
    const first = await started()
    expect(first.plan).toEqual(demoPlan)
    first.edit(harder)
    await expect.poll(saved).toEqual([writePlan(first.plan)])
    setActivePinia(createPinia())
    const second = await started()
    expect(second.id).toBe(first.id)
    expect(second.plan).toEqual(first.plan)
  })

  it('undoes and redoes edits, forgets the future after a new one, and saves each state', async () => {
    const store = await started()
    store.edit(harder)
    const after = store.plan
    store.undo()
    expect(store.plan).toEqual(demoPlan)
    expect(store.canUndo).toBe(false)
    store.redo()
    expect(store.plan).toBe(after)
    store.undo()
    await expect.poll(saved).toEqual([writePlan(demoPlan)])
    store.edit((plan) => ({ ...plan, margin: 0.2 }))
    expect(store.canRedo).toBe(false)
    await expect.poll(saved).toEqual([writePlan(store.plan)])
  })

  it('refuses an edit that makes no plan, with a sentence, and keeps the plan', async () => {
    const store = await started()
    expect(store.edit(impossible)).toBe(false)
    expect(store.plan).toEqual(demoPlan)
    expect(store.trouble?.lines).toEqual(['seed is -1: it must be at least 0.'])
    expect(store.canUndo).toBe(false)
  })

  it('keeps both when another tab saved the plan meanwhile', async () => {
    const store = await started()
    const { id } = store
    const theirs = writePlan({ ...demoPlan, name: 'of the other tab' })
    const stored = await database.plans.get(id)
    await database.plans.put({ id, name: 'of the other tab', text: theirs, updatedAt: 1, revision: (stored?.revision ?? 0) + 1 })
    store.edit(harder)
    await expect.poll(() => useRemarkStore().words).toContain('both are kept')
    expect(store.id).not.toBe(id)
    expect((await database.plans.get(id))?.text).toBe(theirs)
    expect((await database.plans.get(store.id))?.text).toContain('(this tab)')
  })

  it('does not touch a stored plan of a newer version, says so, and opens the demo beside it', async () => {
    const newer = JSON.stringify({ ...demoPlan, version: 9 })
    await database.plans.put({ id: 'n', name: 'newer', text: newer, updatedAt: 1, revision: 4 })
    const store = await started()
    expect(store.trouble?.lines[0]).toContain('version is 9: it is newer than version 1')
    expect(store.plan).toEqual(demoPlan)
    store.edit(harder)
    await expect.poll(async () => (await saved()).length).toBe(2)
    expect(await database.plans.get('n')).toEqual({ id: 'n', name: 'newer', text: newer, updatedAt: 1, revision: 4 })
  })

  it('imports a plan beside the others, refuses a broken one, and throws one away', async () => {
    const store = await started()
    expect(await store.importText(writePlan({ ...demoPlan, name: 'Second' }))).toBe(true)
    expect(store.kept.map((k) => k.name).sort()).toEqual(['Second', 'Skerry Sound Harbour Office'])
    expect(await store.importText('{"format":')).toBe(false)
    expect(store.trouble?.title).toBe('This is not a plan file.')
    expect(store.plan.name).toBe('Second')
    await store.remove(store.id)
    expect(store.plan.name).toBe('Skerry Sound Harbour Office')
    expect(store.kept).toHaveLength(1)
  })

  it('opens a file that is given while the plan of last time is still on its way, and stays with it', async () => {
    await started()
    setActivePinia(createPinia())
    const store = usePlanStore()
    const starting = store.start()
    const { save } = PlanKeeper.prototype
    const slow = vi.spyOn(PlanKeeper.prototype, 'save').mockImplementation(async function (this: PlanKeeper, ...rest) {
      await starting
      return save.apply(this, rest)
    })
    expect(await store.importText(writePlan({ ...demoPlan, name: 'Given early' }))).toBe(true)
    slow.mockRestore()
    expect(store.plan.name).toBe('Given early')
    expect(await saved()).toHaveLength(2)
  })

  it('opens a plan that is written in YAML, and says by line what is none', async () => {
    const store = await started()
    const text = readFileSync('examples/openings/bulk.yaml', 'utf8')
    expect(await store.importText(text)).toBe(true)
    expect(store.plan.name).toBe('Overnight bulk')
    expect(await store.importText('format: sand-clock-plan\nname: [a\nversion: 1\n')).toBe(false)
    expect(store.trouble?.lines[0]).toMatch(/^line [23] is not valid YAML|^line [23]: is not valid YAML/)
    expect(store.plan.name).toBe('Overnight bulk')
  })

  it('saves a plan that came as YAML in its own words, comments and all, also a copy of it', async () => {
    const store = await started()
    expect((await store.file()).name).toBe('skerry-sound-harbour-office.json')
    const yaml = readFileSync('examples/openings/chat.yaml', 'utf8').replace('seed: 1', '# as in June\nseed: 1')
    expect(await store.importText(yaml)).toBe(true)
    expect(await store.file()).toEqual({ name: 'chat-for-people.yaml', text: yaml })
    store.edit((plan) => ({ ...plan, seed: 5 }))
    const after = yaml.replace('seed: 1', 'seed: 5')
    expect((await store.file()).text).toBe(after)
    await store.copy()
    expect((await store.file()).text).toBe(after.replace('name: Chat for people', 'name: Chat for people (copy)'))
  })

  it('has a plan back that was thrown away, with its answer, for 30 days', async () => {
    const store = await started()
    await store.importText(writePlan({ ...demoPlan, name: 'Second' }))
    const { id } = store
    await database.answers.put({ planId: id, planText: 'x', answer: { of: 'it' } })
    await database.frontiers.put({ planId: id, planText: 'x', points: {} })
    await store.remove(id)
    expect(thrown().last?.name).toBe('Second')
    expect(await database.answers.get(id)).toBeUndefined()
    expect(await database.frontiers.get(id)).toBeUndefined()
    useThrown().haveBack(thrown().last!.id)
    await expect.poll(() => store.plan.name).toBe('Second')
    expect([store.id, thrown().last]).toEqual([id, null])
    expect((await database.answers.get(id))?.answer).toEqual({ of: 'it' })
    await store.remove(id)
    await database.thrown.toCollection().modify({ thrownAt: Date.now() - 31 * 86_400_000 })
    await thrown().refresh()
    expect(thrown().things).toEqual([])
  })

  it('has a measurement back that an edit took out', async () => {
    const store = await started()
    const before = store.plan
    store.edit(removeMachines(['Northquay ledge']))
    await expect.poll(() => thrown().things.map((t) => t.name)).toEqual(['Curlew 14B, 8-bit on Northquay ledge'])
    store.undo()
    store.edit(removeMeasurement('Curlew 14B', '8-bit', 'Northquay ledge', 1))
    await expect.poll(() => thrown().things.length).toBe(2)
    useThrown().haveBack(thrown().things[0].id)
    await expect.poll(() => store.plan.models).toEqual(before.models)
  })

  it('notes an edit before anything else, and saves it at the next start if the page was gone before', async () => {
    const store = await started()
    await expect.poll(saved).toHaveLength(1)
    store.edit(harder)
    const noted = await database.journal.toArray()
    expect(noted.map((e) => e.text)).toEqual([writePlan(store.plan)])
    await expect.poll(() => database.journal.count()).toBe(0)
    // As if the browser had ended between the two.
    const stored = (await database.plans.get(store.id))!
    await database.journal.put({
      planId: store.id,
      name: 'Later',
      text: writePlan({ ...store.plan, name: 'Later' }),
      revision: stored.revision,
      at: Date.now() - 5000,
    })
    await database.journal.put({
      planId: 'gone',
      name: 'Alone',
      text: writePlan({ ...store.plan, name: 'Alone' }),
      revision: 3,
      at: Date.now() - 5000,
    })
    setActivePinia(createPinia())
    const second = await started()
    expect(second.kept.map((k) => k.name).sort()).toEqual(['Alone', 'Later'])
    expect(second.plan.name).toBe('Later')
    expect(useRemarkStore().words).toContain('2 plans')
    expect(await database.journal.count()).toBe(0)
  })

  it('opens a plan that was kept under looser rules, says what it left out, and keeps it as it was', async () => {
    const loose = { ...demoPlan, machines: demoPlan.machines.filter((m) => m.name !== 'Northquay ledge') }
    const text = writePlan(loose)
    await database.plans.put({ id: 'l', name: 'loose', text, updatedAt: 1, revision: 4 })
    const store = await started()
    expect(store.plan.machines).toHaveLength(loose.machines.length)
    expect(useRemarkStore().words).toContain('measurements of 8-bit on Northquay ledge')
    expect(thrown().things.map((t) => (t.data as { text: string }).text)).toEqual([text])
  })
})
