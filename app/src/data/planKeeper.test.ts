import 'fake-indexeddb/auto'
import { writePlan } from '@sandclock/core'
import { beforeEach, describe, expect, it } from 'vitest'
import { database } from './database.ts'
import { demoPlan } from './demo.ts'
import { recoverNoted } from './journal.ts'
import { PlanKeeper } from './planKeeper.ts'

beforeEach(() => database.plans.clear())
const names = async () => (await database.plans.toArray()).map((p) => p.name).sort()

describe('who keeps the open plan', () => {
  it('saves what is there when its turn comes, one revision after another', async () => {
    let plan = demoPlan
    const keeper = new PlanKeeper(() => plan)
    keeper.open()
    const copied = () => expect.unreachable('nobody else saved it')
    void keeper.save(copied)
    plan = { ...demoPlan, name: 'later' }
    void keeper.save(copied)
    await keeper.settled()
    expect(await database.plans.toArray()).toMatchObject([{ id: keeper.id, name: 'later', revision: 2 }])
    expect(keeper.revision).toBe(2)
  })

  it('goes on in one copy when another tab saved meanwhile, however many edits were waiting', async () => {
    let plan = { ...demoPlan, name: 'mine' }
    const keeper = new PlanKeeper(() => plan)
    await database.plans.put({ id: 'p', name: 'theirs', text: 'of the other tab', updatedAt: 1, revision: 7 })
    keeper.open({ id: 'p', revision: 6 })
    const ids: string[] = []
    const copied = (copy: typeof plan, id: string) => {
      plan = copy
      ids.push(id)
    }
    void keeper.save(copied)
    void keeper.save(copied)
    await keeper.save(copied)
    expect(ids).toEqual([keeper.id])
    expect(await names()).toEqual(['mine (this tab)', 'theirs'])
    expect(await database.plans.get('p')).toMatchObject({ text: 'of the other tab', revision: 7 })
    expect(keeper.revision).toBe(3)
  })

  it('keeps an edit that went into a copy once: its note is gone, that of another tab is not', async () => {
    for (const noted of [demoPlan, { ...demoPlan, name: 'of a third tab' }]) {
      await Promise.all([database.plans.clear(), database.journal.clear()])
      await database.plans.put({ id: 'p', name: 'theirs', text: 'of the other tab', updatedAt: 1, revision: 7 })
      await database.journal.put({ planId: 'p', name: noted.name, text: writePlan(noted), revision: 6, at: 1 })
      const keeper = new PlanKeeper(() => demoPlan)
      keeper.open({ id: 'p', revision: 6 })
      await keeper.save(() => undefined)
      await recoverNoted(() => 'found')
      expect(await database.plans.get('found')).toEqual(
        noted === demoPlan ? undefined : expect.objectContaining({ text: writePlan(noted) }),
      )
    }
  })

  it('is settled once what came while it was waited for is saved too', async () => {
    let plan = demoPlan
    const keeper = new PlanKeeper(() => plan)
    keeper.open()
    const copied = () => expect.unreachable('nobody else saved it')
    void keeper.save(copied).then(() => {
      plan = { ...demoPlan, name: 'at the last moment' }
      void keeper.save(copied)
    })
    await keeper.settled()
    expect(await names()).toEqual(['at the last moment'])
  })

  it('tells who asked when it can not be saved, and saves what comes after', async () => {
    let broken = true
    const keeper = new PlanKeeper(() => {
      if (broken) throw new Error('no plan')
      return demoPlan
    })
    keeper.open()
    await expect(keeper.save(() => undefined)).rejects.toThrow('no plan')
    broken = false
    await keeper.save(() => undefined)
    expect(await names()).toEqual([demoPlan.name])
  })
})
