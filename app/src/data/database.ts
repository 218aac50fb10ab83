import type { Answer, CutShort, LogColumns } from '@sandclock/core'
import Dexie, { type Table } from 'dexie'
import { linesOf } from '../search/pieces.ts'

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
  /** an `Answer` of the core in lines (see `pieces.ts`), as it came in former versions */
  answer: unknown
}

/** Points around the options of the answer to exactly this plan text, as far as they were simulated: apart, since the answer is large. */
export interface StoredFrontiers {
  planId: string
  planText: string
  /** by service */
  points: unknown
}

/** A request log as it was dropped, perhaps compressed and in several files. */
export interface StoredLog {
  name: string
  files?: readonly KeptFile[]
  /** which column is what, as it was confirmed; guessed where it is not there */
  columns?: LogColumns
  /** its one file, as logs were kept at first */
  bytes?: Uint8Array
}

export interface KeptFile {
  name: string
  bytes: Blob
}

/** What the columns of a log were said to be: the next one of the same columns is read alike. */
export interface LogShape {
  /** its headers, one a line */
  headers: string
  columns: LogColumns
}

/** Requests that were measured, or that were dropped as a file. */
export interface StoredMeasurement {
  id: string
  name: string
  /** when they were, or were dropped */
  measuredAt: number
  /** how, and with which load; null for a file, which does not say it */
  order: unknown
  /** the requests as CSV */
  rows: string
  count: number
  cutShort?: CutShort
  spent?: number
}

/** What was thrown away, or could not be read: it can be had back for a while. */
export interface ThrownAway {
  id: string
  kind: 'plan' | 'log' | 'pin' | 'measurement' | 'measured' | 'unreadable'
  /** as a person knows it */
  name: string
  thrownAt: number
  data: unknown
}

/** The YAML that a plan came in, with its comments: it goes out in the same words. */
export interface PlanSource {
  planId: string
  yaml: string
}

/** An edit that was made and is not saved yet: see `journal.ts`. */
export interface JournalEntry {
  planId: string
  name: string
  text: string
  /** of the plan that was edited */
  revision: number
  at: number
}

class Database extends Dexie {
  declare plans: Table<StoredPlan, string>
  declare answers: Table<StoredAnswer, string>
  declare frontiers: Table<StoredFrontiers, string>
  declare logs: Table<StoredLog, string>
  declare logShapes: Table<LogShape, string>
  declare sources: Table<PlanSource, string>
  declare thrown: Table<ThrownAway, string>
  declare journal: Table<JournalEntry, string>
  declare measured: Table<StoredMeasurement, string>

  constructor() {
    // What is saved is on the disk before it is called saved.
    super('sand-clock', { chromeTransactionDurability: 'strict' })
    this.version(1).stores({ plans: 'id, updatedAt', answers: 'planId', logs: 'name' })
    this.version(2).stores({ thrown: 'id, thrownAt', journal: 'planId' })
    this.version(3).stores({ logShapes: 'headers', sources: 'planId' })
    this.version(4).stores({ measured: 'id, measuredAt' })
    this.version(5).stores({ frontiers: 'planId' })
  }
}

export const database = new Database()

/**
 * Saves a plan if nobody else did since `revision`.
 *
 * @returns the new revision, or undefined when another tab was there first: then nothing is written
 */
export async function savePlan(plan: Omit<StoredPlan, 'revision' | 'updatedAt'>, revision: number): Promise<number | undefined> {
  return database.transaction('rw', [database.plans, database.journal], async () => {
    const there = await database.plans.get(plan.id)
    if (there && there.revision !== revision) return undefined
    await database.plans.put({ ...plan, revision: revision + 1, updatedAt: Date.now() })
    await forgetNote(plan.id, plan.text)
    return revision + 1
  })
}

/** What is saved need not stay noted; an edit that came meanwhile does. */
export async function forgetNote(planId: string, text: string): Promise<void> {
  await database.journal
    .where({ planId })
    .and((noted) => noted.text === text)
    .delete()
}

/** Keeps the answer to a plan. One that the browser has no room for is found anew when the plan is opened again. */
export async function keepAnswer({ planId, text }: { planId: string; text: string }, answer: Answer): Promise<void> {
  await database.answers.put({ planId, planText: text, answer: linesOf(answer) }).catch(() => undefined)
}
