import type { ClassPicture, Combination, Comparison, FitDetail, FitRow, LateSums, LeverReport, Moment, Plan, PreventionProgress, RequestLog, Sized, VolumeReport, WayBetween } from '@sandclock/core'
import { defineStore } from 'pinia'
import { shallowRef } from 'vue'
import type { RunName } from '../worker/heldRuns.ts'
import type { Job, LogReading, MoneyView, PinnedRun, RunFigures, RunView } from '../worker/viewWorker.ts'
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

  const timelineOf = (name: RunName, from: number, until: number, pieces: number): Promise<RunView | undefined> => worker.remote.timeline(name, from, until, pieces)

  const figuresOf = (name: RunName, from: number, until: number): Promise<RunFigures | undefined> => worker.remote.figures(name, from, until)

  const lateOf = (name: RunName, moment: Moment): Promise<LateSums | undefined> => worker.remote.lateOf(name, moment)

  /** Goes on with a job until it is done, `stop` says so, another of its kind is begun or the plan changes. */
  async function follow<T extends object>(begun: Promise<Job<T> | undefined>, told: (progress: T & { done: boolean }) => void, stop: () => boolean): Promise<void> {
    const number = await begun
    while (number !== undefined && !stop()) {
      const step = (await worker.remote.advance(number)) as (T & { done: boolean }) | undefined
      if (step && !stop()) told(step)
      if (!step || step.done) return
    }
  }

  /** Looks for what would have prevented a moment. */
  const prevent = (name: RunName, moment: Moment, told: (progress: PreventionProgress & { done: boolean }) => void, stop: () => boolean) => follow<PreventionProgress>(worker.remote.prevent(name, moment), told, stop)

  /** Moves one input after the other. */
  const pull = (name: RunName, others: readonly Sized[], told: (report: LeverReport & { done: boolean }) => void, stop: () => boolean) => follow<LeverReport>(worker.remote.pull(name, others), told, stop)

  /** Goes from one run to another, one change after the other. */
  const between = (a: RunName, b: RunName, told: (way: WayBetween & { done: boolean }) => void, stop: () => boolean) => follow<WayBetween>(worker.remote.between(a, b), told, stop)

  /** Lays machines that are there against calls, one volume after the other. */
  const volume = (name: RunName, told: (report: VolumeReport & { done: boolean }) => void, stop: () => boolean) => follow<VolumeReport>(worker.remote.volume(name), told, stop)

  const pinnedOf = (name: RunName, pieces: number): Promise<PinnedRun | undefined> => worker.remote.pinned(name, pieces)

  const ledgerOf = (name: RunName): Promise<MoneyView | undefined> => worker.remote.ledger(name)

  const detailOf = (service: string, at: Combination): Promise<FitDetail | undefined> => worker.remote.fitDetail(service, at)

  const creditOf = (service: string, a: Combination, b: Combination, sequences: number): Promise<Comparison | undefined> => worker.remote.credit(service, a, b, sequences)

  return { load, fits, generation, setPlan, timelineOf, figuresOf, lateOf, prevent, ledgerOf, pull, between, volume, pinnedOf, detailOf, creditOf, readLog: (bytes: Uint8Array, name: string): Promise<LogReading> => worker.remote.readLog(bytes, name) }
})
