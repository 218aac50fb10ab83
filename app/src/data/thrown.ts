import { nanoid } from 'nanoid'
import { database, type ThrownAway } from './database.ts'

const KEPT_DAYS = 30
const DAY_MS = 86_400_000

/** Puts something aside that is thrown away, or that can not be read; it can be had back for 30 days. @returns its name there */
export async function throwAway(kind: ThrownAway['kind'], name: string, data: unknown): Promise<string> {
  const id = nanoid() // not the browser's own: it has none over http under another name
  await database.thrown.put({ id, kind, name, data, thrownAt: Date.now() })
  return id
}

/** What can be had back, the last one first; what is older than 30 days is gone for good. */
export async function thrownAway(): Promise<ThrownAway[]> {
  await database.thrown
    .where('thrownAt')
    .below(Date.now() - KEPT_DAYS * DAY_MS)
    .delete()
  return database.thrown.orderBy('thrownAt').reverse().toArray()
}

/** Takes something out of what was thrown away. */
export async function takeBack(id: string): Promise<ThrownAway | undefined> {
  return database.transaction('rw', database.thrown, async () => {
    const found = await database.thrown.get(id)
    await database.thrown.delete(id)
    return found
  })
}
