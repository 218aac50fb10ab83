import { database, type JournalEntry } from './database.ts'

/** A tab that lives saves what it noted within this time; what is older was left behind. */
const LEFT_BEHIND_MS = 1500

/**
 * Notes an edit on the disk at once, in one request that needs nothing of this thread any more: the page may be left, or the
 * browser end, before the plan is saved in its turn.
 */
export function note(entry: Omit<JournalEntry, 'at'>): void {
  if (!database.isOpen()) return
  try {
    const transaction = database.backendDB().transaction('journal', 'readwrite', { durability: 'strict' })
    transaction.objectStore('journal').put({ ...entry, at: Date.now() })
    transaction.commit()
  } catch {
    // The database is closing; the plan is saved in its turn.
  }
}

/**
 * Saves edits that were noted and never saved. One of a plan that another tab has saved since becomes a plan of its own.
 *
 * @returns the plans that they are in now
 */
export async function recoverNoted(newId: () => string): Promise<string[]> {
  const young = (await database.journal.toArray()).some((e) => Date.now() - e.at < LEFT_BEHIND_MS)
  if (young) await new Promise((over) => setTimeout(over, LEFT_BEHIND_MS))
  return database.transaction('rw', [database.plans, database.journal], async () => {
    const out: string[] = []
    for (const { planId, name, text, revision, at } of await database.journal.toArray()) {
      if (Date.now() - at < LEFT_BEHIND_MS) continue
      const stored = await database.plans.get(planId)
      const own = !stored || stored.revision === revision
      const id = own ? planId : newId()
      if (stored?.text !== text) {
        await database.plans.put({
          id,
          name: own ? name : `${name.slice(0, 60)} (left behind)`,
          text,
          updatedAt: at,
          revision: own ? revision + 1 : 1,
        })
        out.push(id)
      }
      await database.journal.delete(planId)
    }
    return out
  })
}
