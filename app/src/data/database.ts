import Dexie, { type Table } from 'dexie'

/** A plan as it is kept in the browser. */
export interface StoredPlan {
  id: string
  name: string
  /** the text of the plan file */
  text: string
  updatedAt: number
  /** raised with every save, so that two tabs notice each other */
  revision: number
}

/** The answer to exactly this plan text. */
export interface StoredAnswer {
  planId: string
  planText: string
  /** an `Answer` of the core, as it came */
  answer: unknown
}

/** A request log as it was dropped, perhaps compressed. */
export interface StoredLog {
  name: string
  bytes: Uint8Array
}

class Database extends Dexie {
  declare plans: Table<StoredPlan, string>
  declare answers: Table<StoredAnswer, string>
  declare logs: Table<StoredLog, string>

  constructor() {
    super('sand-clock')
    this.version(1).stores({ plans: 'id, updatedAt', answers: 'planId', logs: 'name' })
  }
}

export const database = new Database()

/**
 * Saves a plan if nobody else did since `revision`.
 *
 * @returns the new revision, or undefined when another tab was there first: then nothing is written
 */
export async function savePlan(plan: Omit<StoredPlan, 'revision' | 'updatedAt'>, revision: number): Promise<number | undefined> {
  return database.transaction('rw', database.plans, async () => {
    const there = await database.plans.get(plan.id)
    if (there && there.revision !== revision) return undefined
    await database.plans.put({ ...plan, revision: revision + 1, updatedAt: Date.now() })
    return revision + 1
  })
}
