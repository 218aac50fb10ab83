import { leftOutWords, matchLog, needsLog, replaceLoad, sentence, type Plan, type RequestLog } from '@sandclock/core'
import { defineStore } from 'pinia'
import { shallowRef } from 'vue'
import { database, type StoredLog } from '../data/database.ts'
import { throwAway } from '../data/thrown.ts'
import { troubleOf, usePlanStore, type Trouble } from './planStore.ts'
import { useRemarkStore } from './remarkStore.ts'
import { useViewStore } from './viewStore.ts'

/** What was found in a dropped log, until it is used or put away. */
export interface LogReport {
  log: RequestLog
  bytes: Uint8Array
  badRows: string[]
}

const sameBytes = (a: Uint8Array, b: Uint8Array) => a.length === b.length && a.every((byte, i) => byte === b[i])

/** Request logs: read in a worker, shown, kept in the browser, matched to the plan that uses them. */
export const useLogStore = defineStore('log', () => {
  const report = shallowRef<LogReport | null>(null)
  const trouble = shallowRef<Trouble | null>(null)
  const reading = shallowRef(false)
  const byName = new Map<string, RequestLog>()

  async function read(name: string, bytes: Uint8Array): Promise<void> {
    reading.value = true
    trouble.value = null
    const result = await useViewStore().readLog(bytes, name)
    reading.value = false
    if (!result.ok) {
      const [title, ...lines] = result.message.split('\n')
      trouble.value = { title, lines: lines.map((l) => l.trim()) }
      return
    }
    const badRows = result.log.badRows.map((b) => sentence({ path: `line ${b.line}, ${b.field}`, found: b.found, rule: b.rule }))
    report.value = { log: result.log, bytes, badRows }
  }

  /** Replaces the load of the open plan by the log that was read. */
  async function use(): Promise<void> {
    const found = report.value
    if (!found) return
    const plans = usePlanStore()
    try {
      const replaced = replaceLoad(plans.plan, found.log)
      const former = await database.logs.get(found.log.name)
      if (former && !sameBytes(former.bytes, found.bytes)) await throwAway('log', former.name, former)
      await database.logs.put({ name: found.log.name, bytes: found.bytes })
      byName.set(found.log.name, found.log)
      plans.edit(() => replaced.plan)
      useRemarkStore().words = leftOutWords(replaced).join(' ')
      report.value = null
    } catch (error) {
      trouble.value = troubleOf(error)
    }
  }

  /** The log that a plan needs, matched to its classes; undefined when it needs none or it is not here. */
  async function logFor(plan: Plan): Promise<RequestLog | undefined> {
    if (plan.log === undefined || !needsLog(plan)) return undefined
    const log = byName.get(plan.log) ?? (await fromBrowser(plan.log))
    if (!log) {
      trouble.value = { title: `The request log "${plan.log}" is not in this browser.`, lines: ['Drop the file anywhere on this page.'] }
      return undefined
    }
    return matchLog(plan, log).log
  }

  async function fromBrowser(name: string): Promise<RequestLog | undefined> {
    const stored = await database.logs.get(name)
    if (!stored) return undefined
    const result = await useViewStore().readLog(stored.bytes, name)
    if (!result.ok) return undefined
    byName.set(name, result.log)
    return result.log
  }

  /** A log that was thrown away takes the place of the one of its name, which can be had back in its turn. */
  async function restore(log: StoredLog): Promise<void> {
    const former = await database.logs.get(log.name)
    if (former) await throwAway('log', former.name, former)
    await database.logs.put(log)
    byName.delete(log.name)
  }

  return { restore, report, trouble, reading, read, use, logFor, putAway: () => (report.value = null) }
})
