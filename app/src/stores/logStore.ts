import { leftOutWords, logFiles, logName, needsLog, placeOf, sentence } from '@sandclock/core'
import type { Figures, FromLog, LogColumns, LogFit, LogPeek, Plan, RequestLog } from '@sandclock/core'
import { defineStore } from 'pinia'
import { shallowRef, toRaw } from 'vue'
import { database, type KeptFile, type StoredLog } from '../data/database.ts'
import { throwAway } from '../data/thrown.ts'
import type { BegunPlan, Reading } from '../worker/viewWorker.ts'
import { usePlanStore, type Trouble } from './planStore.ts'
import { useRemarkStore } from './remarkStore.ts'
import { useViewStore } from './viewStore.ts'

/** What was found in a dropped log, until it is used or put away. */
export interface LogReport {
  files: readonly KeptFile[]
  peek: LogPeek
  /** which column is what: guessed, remembered of a log of the same columns, or said */
  columns: LogColumns
  isRemembered: boolean
  /** null where nothing can be read by these columns; `trouble` says why */
  log: RequestLog | null
  /** what really happened, in words */
  happened: string
  badRows: string[]
}

/** Files that are larger are taken to be others without looking at every byte. */
const MOST_COMPARED_BYTES = 64_000_000

/** Request logs: read in a worker, shown, kept in the browser, matched to the plan that uses them. */
export const useLogStore = defineStore('log', () => {
  const report = shallowRef<LogReport | null>(null)
  /** what the log that was read is like, once that is asked for */
  const fit = shallowRef<LogFit | null>(null)
  const trouble = shallowRef<Trouble | null>(null)
  const reading = shallowRef(false)
  const byName = new Map<string, RequestLog>()
  /** what was last asked to be read, and until it is */
  let asked: object | undefined
  let isRead: Promise<void> = Promise.resolve()

  function valueOf<T>(result: Reading<T>): T | undefined {
    if (result.ok) return result.value
    const [title, ...lines] = result.message.split('\n')
    trouble.value = { title, lines: lines.map((l) => l.trim()) }
    return undefined
  }

  /** Looks at the files of one log, and reads it by the columns that are remembered of its shape or else guessed. */
  async function read(files: readonly KeptFile[]): Promise<void> {
    reading.value = true
    trouble.value = null
    const peek = valueOf(await useViewStore().peekLog(files))
    if (peek) {
      const known = await database.logShapes.get(shapeOf(peek))
      await (isRead = readBy({ files, peek, columns: known?.columns ?? peek.columns, isRemembered: known !== undefined }))
    } else reading.value = false
  }

  /** What is asked for meanwhile is shown instead. */
  async function readBy(seen: Pick<LogReport, 'files' | 'peek' | 'columns' | 'isRemembered'>): Promise<void> {
    asked = seen
    const result = await useViewStore().readLog(seen.files, toRaw(seen.columns))
    if (asked !== seen) return
    reading.value = false
    const read = valueOf(result)
    const { log = null, happened = '' } = read ?? {}
    fit.value = null
    const badRows = log?.badRows.map((b) => sentence({ path: placeOf(b), found: b.found, rule: b.rule })) ?? []
    report.value = { ...seen, log, happened, badRows }
  }

  /** Somebody says what the columns are: it is read again. What is said next begins from these, read or not. */
  async function setColumns(columns: LogColumns): Promise<void> {
    if (!report.value) return
    trouble.value = null
    reading.value = true
    report.value = { ...report.value, columns, isRemembered: false }
    await (isRead = readBy(report.value))
  }

  /** What is still being read of it is not shown any more. */
  function putAway(): void {
    report.value = null
    asked = undefined
    reading.value = false
  }

  /** What was found by the columns as they were last said to be. */
  async function foundLog(): Promise<LogReport | null> {
    await isRead
    return report.value
  }

  /** Keeps the log that was read, with what its columns are. */
  async function keep({ log, files, columns, peek }: LogReport & { log: RequestLog }): Promise<void> {
    const former = await database.logs.get(keyOf(log.files))
    if (former && !(await isSame(former, files))) await throwAway('log', former.name, former)
    await database.logs.put({ name: keyOf(log.files), files, columns })
    await database.logShapes.put({ headers: shapeOf(peek), columns })
    byName.set(keyOf(log.files), log)
  }

  /** Replaces the load of the open plan by the log that was read. */
  async function use(): Promise<void> {
    const found = await foundLog()
    if (!found?.log) return
    const plans = usePlanStore()
    const replaced = valueOf(await useViewStore().replaceLoad(plans.plan, found.log))
    if (!replaced) return
    await keep({ ...found, log: found.log })
    plans.edit(() => replaced.plan)
    useRemarkStore().words = leftOutWords(replaced).join(' ')
    putAway()
  }

  async function describe(): Promise<void> {
    const log = report.value?.log
    const found = log && (await useViewStore().fitLog(log))
    if (found && report.value?.log === log) fit.value = found
  }

  /**
   * Begins a plan whose load is that of the log that was read.
   *
   * @returns it, or undefined when `trouble` says why there is none
   */
  async function begin(
    figures: Figures,
    offers: Pick<Plan, 'machines' | 'currency'>,
    from: Omit<FromLog, 'log'>,
  ): Promise<BegunPlan | undefined> {
    const found = await foundLog()
    if (!found?.log) return undefined
    const { machines, currency } = toRaw(offers)
    const begun = valueOf(await useViewStore().begunFromLog(toRaw(figures), machines, currency, { ...from, log: found.log }))
    if (!begun) return undefined
    if (from.as === 'came') await keep({ ...found, log: found.log })
    putAway()
    return begun
  }

  /** The log that a plan needs, matched to its classes; undefined when it needs none or it is not here. */
  async function logFor(plan: Plan): Promise<RequestLog | undefined> {
    if (plan.log === undefined || !needsLog(plan)) return undefined
    const log = byName.get(keyOf(plan.log)) ?? (await fromBrowser(keyOf(plan.log)))
    if (!log) {
      trouble.value = {
        title: `The request log "${logName(logFiles(plan.log))}" is not in this browser.`,
        lines: ['Drop the file anywhere on this page.'],
      }
      return undefined
    }
    return valueOf(await useViewStore().matchLog(plan, log))?.log
  }

  /** Those that are kept here. */
  const keptNames = async (): Promise<string[]> => (await database.logs.toCollection().primaryKeys()).sort()
  /** One of them; undefined where it is not kept, or can not be read any more. */
  const named = async (name: string): Promise<RequestLog | undefined> => byName.get(name) ?? (await fromBrowser(name))

  async function fromBrowser(name: string): Promise<RequestLog | undefined> {
    const stored = await database.logs.get(name)
    if (!stored) return undefined
    const result = await useViewStore().readLog(filesOf(stored), stored.columns)
    if (!result.ok) return undefined
    byName.set(name, result.value.log)
    return result.value.log
  }

  /** A log that was thrown away takes the place of the one of its name, which can be had back in its turn. */
  async function restore(log: StoredLog): Promise<void> {
    const former = await database.logs.get(log.name)
    if (former) await throwAway('log', former.name, former)
    await database.logs.put(log)
    byName.delete(log.name)
  }

  return { restore, report, fit, trouble, reading, read, setColumns, use, describe, begin, logFor, keptNames, named, putAway }
})

/** Under which name a log is kept: that of its only file, or of all of them. */
const keyOf = (log: NonNullable<Plan['log']>) => logFiles(log).join(' + ')

const shapeOf = ({ headers }: LogPeek) => headers.join('\n')

/** @returns the files of a log, however it was kept */
function filesOf({ name, files, bytes }: StoredLog): readonly KeptFile[] {
  return files ?? (bytes ? [{ name, bytes: new Blob([new Uint8Array(bytes)]) }] : [])
}

async function isSame(former: StoredLog, files: readonly KeptFile[]): Promise<boolean> {
  const before = filesOf(former)
  if (before.length !== files.length || before.some(({ bytes }, i) => bytes.size !== files[i].bytes.size)) return false
  if (files.some(({ bytes }) => bytes.size > MOST_COMPARED_BYTES)) return false
  const [a, b] = await Promise.all([before, files].map((list) => new Blob(list.map(({ bytes }) => bytes)).arrayBuffer()))
  const [x, y] = [new Uint8Array(a), new Uint8Array(b)]
  return x.every((byte, i) => byte === y[i])
}
