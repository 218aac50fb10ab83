import 'fake-indexeddb/auto'
import { beforeEach, describe, expect, it } from 'vitest'
import { database, savePlan } from './database.ts'

beforeEach(() => database.plans.clear())

describe('savePlan', () => {
  const plan = { id: 'a', name: 'Harbour', text: 'one' }

  it('raises the revision with every save', async () => {
    expect(await savePlan(plan, 0)).toBe(1)
    expect(await savePlan({ ...plan, text: 'two' }, 1)).toBe(2)
    expect(await database.plans.get('a')).toMatchObject({ text: 'two', revision: 2 })
  })

  it('writes nothing when another tab was there first', async () => {
    await savePlan(plan, 0)
    await savePlan({ ...plan, text: 'of the other tab' }, 1)
    expect(await savePlan({ ...plan, text: 'late' }, 1)).toBeUndefined()
    expect(await database.plans.get('a')).toMatchObject({ text: 'of the other tab', revision: 2 })
  })
})
