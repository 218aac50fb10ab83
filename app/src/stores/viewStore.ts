import type { ClassPicture, Combination, Comparison, FitDetail, FitRow, OptionName, Plan, RequestLog } from '@sandclock/core'
import { defineStore } from 'pinia'
import { shallowRef } from 'vue'
import type { LogReading, RunFigures, RunView } from '../worker/viewWorker.ts'
import { startViewWorker } from '../worker/workers.ts'

/** Pieces into which pictures of the whole horizon cut it: a quarter of an hour in a week. */
export const PIECES = 672

/** What the views show of the plan that the worker holds. */
export const useViewStore = defineStore('view', () => {
  const worker = startViewWorker()
  const load = shallowRef<ClassPicture[]>([])
  const fits = shallowRef<Record<string, FitRow[]>>({})
  /** counts plans that were given to the worker; late results of older ones are dropped */
  const generation = shallowRef(0)

  async function setPlan(plan: Plan, log: RequestLog | undefined): Promise<void> {
    const mine = ++generation.value
    await worker.remote.setPlan(plan, log)
    const [picture, ...tables] = await Promise.all([worker.remote.loadPicture(PIECES), ...plan.services.map((s) => worker.remote.fitTable(s.name))])
    if (mine !== generation.value) return
    load.value = picture
    fits.value = Object.fromEntries(plan.services.map((s, i) => [s.name, tables[i]]))
  }

  const timelineOf = (service: string, option: OptionName, replicas: number, machines: number, from: number, until: number, pieces: number): Promise<RunView | undefined> =>
    worker.remote.timeline(service, option, replicas, machines, from, until, pieces)

  const figuresOf = (service: string, option: OptionName, replicas: number, machines: number, from: number, until: number): Promise<RunFigures | undefined> =>
    worker.remote.figures(service, option, replicas, machines, from, until)

  const detailOf = (service: string, at: Combination): Promise<FitDetail | undefined> => worker.remote.fitDetail(service, at)

  const creditOf = (service: string, a: Combination, b: Combination, sequences: number): Promise<Comparison | undefined> => worker.remote.credit(service, a, b, sequences)

  return { load, fits, generation, setPlan, timelineOf, figuresOf, detailOf, creditOf, readLog: (bytes: Uint8Array, name: string): Promise<LogReading> => worker.remote.readLog(bytes, name) }
})
