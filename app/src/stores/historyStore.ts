import type { Figures, FromLog, HistoryFit, Plan, Roles } from '@sandclock/core'
import { defineStore } from 'pinia'
import { shallowRef, toRaw } from 'vue'
import type { KeptFile } from '../data/database.ts'
import { askedHistory, type HistoryQuestion } from '../data/askedHistory.ts'
import type { HistoryRead } from '../worker/histories.ts'
import type { BegunPlan, Reading } from '../worker/viewWorker.ts'
import type { Trouble } from './planStore.ts'
import { useViewStore } from './viewStore.ts'

/** A metrics history that was dropped, until a plan is begun from it or it is put away. */
export interface HistoryReport extends HistoryRead {
  name: string
  /** label of the classes, null for none, undefined as long as it is guessed */
  by: string | null | undefined
}

/** Metrics histories: read in a worker, told, and made into plans. */
export const useHistoryStore = defineStore('history', () => {
  const report = shallowRef<HistoryReport | null>(null)
  /** null where nothing can be told by these roles; `trouble` says why */
  const fit = shallowRef<HistoryFit | null>(null)
  const trouble = shallowRef<Trouble | null>(null)
  const asking = shallowRef(false)

  function valueOf<T>(result: Reading<T>): T | undefined {
    if (result.ok) return result.value
    const [title, ...lines] = result.message.split('\n')
    trouble.value = { title, lines: lines.map((l) => l.trim()) }
    return undefined
  }

  async function read(files: readonly KeptFile[]): Promise<void> {
    trouble.value = fit.value = report.value = null
    const found = valueOf(await useViewStore().openHistory(files))
    if (!found) return
    report.value = { ...found, name: files.map((f) => f.name).join(', '), by: undefined }
    await describe()
  }

  /** Has the server of this page ask a monitoring server, and reads what that answered. */
  async function ask(question: HistoryQuestion): Promise<void> {
    trouble.value = null
    asking.value = true
    const answer = await askedHistory(question)
    asking.value = false
    if ('message' in answer) valueOf({ ok: false, message: answer.message, problems: [] })
    else await read([{ name: new URL(question.address).host, bytes: answer.bytes }])
  }

  async function describe(): Promise<void> {
    const now = report.value
    if (!now) return
    trouble.value = null
    const told = valueOf(await useViewStore().describeHistory(toRaw(now.roles), now.by)) ?? null
    if (report.value === now) fit.value = told
  }

  /** Somebody says what is what. */
  async function say(roles: Roles, by: string | null | undefined): Promise<void> {
    if (report.value) report.value = { ...report.value, roles, by }
    await describe()
  }

  /** @returns a plan whose load is like that of the history, or undefined when `trouble` says why there is none */
  async function begin(
    figures: Figures,
    offers: Pick<Plan, 'machines' | 'currency'>,
    from: Omit<FromLog, 'log'>,
  ): Promise<BegunPlan | undefined> {
    const name = report.value?.name
    if (name === undefined) return undefined
    const { machines, currency } = toRaw(offers)
    const begun = valueOf(await useViewStore().begunFromLog(toRaw(figures), machines, currency, { ...from, as: 'such', log: { name } }))
    if (begun) report.value = null
    return begun
  }

  return { report, fit, trouble, asking, read, ask, say, begin, putAway: () => (report.value = fit.value = null) }
})
