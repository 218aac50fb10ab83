import type {
  ClassPicture,
  Combination,
  CopiesReport,
  Estimated,
  Figures,
  FitRow,
  FromLog,
  HistoryFit,
  LeverReport,
  LoadTest,
  LogColumns,
  LogFit,
  LogPeek,
  Machine,
  MatchedLog,
  Measured,
  Measure,
  Moment,
  OneAsked,
  Rung,
  Served,
  SessionAsked,
  Reading as StopwatchReading,
  Plan,
  Pressing,
  PreventionProgress,
  ProbedRequest,
  ReplacedLoad,
  RequestLog,
  Roles,
  Sized,
  SizedAsked,
  SparingReport,
  Stretch,
  TestedLoad,
  VolumeReport,
  WayBetween,
  WorldsAndWorth,
} from '@sandclock/core'
import { defineStore } from 'pinia'
import { shallowRef } from 'vue'
import type { KeptFile } from '../data/database.ts'
import type { RunName } from '../worker/heldRuns.ts'
import type { Job } from '../worker/jobs.ts'
import type { ProofProgress } from '../worker/proofSteps.ts'
import type { HistoryRead } from '../worker/histories.ts'
import type { BegunPlan, LogRead, Questions, Reading } from '../worker/viewWorker.ts'
import { behindPictures } from '../composables/frames.ts'
import { startViewWorker } from '../worker/workers.ts'

/** Pieces into which pictures of the whole horizon cut it: a quarter of an hour in a week. */
export const PIECES = 672

/** What the views show of the plan that the worker holds. */
export const useViewStore = defineStore('view', () => {
  const load = shallowRef<ClassPicture[]>([])
  const fits = shallowRef<Record<string, FitRow[]>>({})
  /** counts plans that were given to the worker; late results of older ones are dropped */
  const generation = shallowRef(0)

  const worker = behindPictures(startViewWorker)

  const ask = <K extends keyof Questions>(question: K, ...args: Parameters<Questions[K]>) =>
    worker(({ remote }) => remote.ask(question, args) as Promise<ReturnType<Questions[K]> | undefined>)

  async function setPlan(plan: Plan, log: RequestLog | undefined): Promise<void> {
    const mine = ++generation.value
    const told = await worker(async ({ remote }) => {
      // Opened, and at once another: only that one is looked at.
      if (mine !== generation.value) return undefined
      await remote.setPlan(plan, log)
      return remote.ask('pictures', [PIECES]) as Promise<ReturnType<Questions['pictures']> | undefined>
    })
    if (!told || mine !== generation.value) return
    load.value = told.load
    fits.value = told.fits
  }

  /** Goes on with a job until it is done, `stop` says so, another of its kind is begun or the plan changes. */
  async function follow<T extends object>(
    begun: Promise<Job<T> | undefined>,
    told: (progress: T & { done: boolean }) => void,
    stop: () => boolean,
  ): Promise<void> {
    const number = await begun
    while (number !== undefined && !stop()) {
      const step = (await ask('advance', number)) as (T & { done: boolean }) | undefined // as the number says
      if (step && !stop()) told(step)
      if (!step || step.done) return
    }
  }

  type Told<T> = (progress: T & { done: boolean }) => void
  return {
    load,
    fits,
    generation,
    setPlan,
    timelineOf: (name: RunName, from: number, until: number, pieces: number) => ask('timeline', name, from, until, pieces),
    figuresOf: (name: RunName, from: number, until: number) => ask('figures', name, from, until),
    distributionOf: (name: RunName, className: string, measure: Measure, within: Stretch) =>
      ask('distribution', name, className, measure, within),
    lateOf: (name: RunName, moment: Moment) => ask('lateOf', name, moment),
    machineUseOf: (names: readonly RunName[]) => ask('machineUse', names),
    neededOf: (names: readonly RunName[]) => ask('needed', names),
    ledgerOf: (name: RunName) => ask('ledger', name),
    pinnedOf: (name: RunName, pieces: number) => ask('pinned', name, pieces),
    waitLeftOf: (name: RunName) => ask('waitLeft', name),
    estimateOf: (asked: OneAsked, what: Estimated, value: number) => ask('estimate', asked, what, value),
    /** Where a request to a service would likely go, where no answer says it. */
    likelyPlaceOf: (service: string) => ask('likelyPlace', service),
    oneOfSize: (asked: SizedAsked) => ask('oneOfSize', asked),
    oneOf: (asked: OneAsked) => ask('one', asked),
    sessionOf: (asked: SessionAsked, worth: number) => ask('session', asked, worth),
    /** Looks for what readings of a stopwatch prove. */
    prove: (asked: OneAsked, read: readonly StopwatchReading[], told: Told<ProofProgress>, stop: () => boolean) =>
      follow(ask('proof', asked, read), told, stop),
    detailOf: (service: string, at: Combination) => ask('fitDetail', service, at),
    creditOf: (service: string, a: Combination, b: Combination, sequences: number) => ask('credit', service, a, b, sequences),
    /** Looks for what would have prevented a moment. */
    prevent: (name: RunName, moment: Moment, told: Told<PreventionProgress>, stop: () => boolean) =>
      follow(ask('prevent', name, moment), told, stop),
    /** Moves one input after the other. */
    pull: (name: RunName, others: readonly Sized[], told: Told<LeverReport>, stop: () => boolean) =>
      follow(ask('pull', name, others), told, stop),
    /** Runs it in one world after the other. */
    worlds: (name: RunName & Rung, others: readonly Rung[], told: Told<WorldsAndWorth>, stop: () => boolean) =>
      follow(ask('worlds', name, others), told, stop),
    /** Goes from one run to another, one change after the other. */
    between: (a: RunName, b: RunName, told: Told<WayBetween>, stop: () => boolean) => follow(ask('between', a, b), told, stop),
    /** Counts the copies for more load, one multiple after the other. */
    copies: (name: RunName, told: Told<CopiesReport>, stop: () => boolean) => follow(ask('copies', name), told, stop),
    /** Tests a run on paper, one pressure after the other. */
    loadTest: (name: RunName, load: TestedLoad, pressing: Pressing, told: Told<LoadTest>, stop: () => boolean) =>
      follow(ask('loadTest', name, load, pressing), told, stop),
    /** Spares cold callers, one way after the other. */
    spare: (name: RunName, told: Told<SparingReport>, stop: () => boolean) => follow(ask('spare', name), told, stop),
    /** Lays machines that are there against calls, one volume after the other. */
    volume: (name: RunName, others: readonly Sized[], told: Told<VolumeReport>, stop: () => boolean) =>
      follow(ask('volume', name, others), told, stop),
    peekLog: (files: readonly KeptFile[]): Promise<Reading<LogPeek>> => worker(async ({ remote }) => remote.peekLog(files)),
    readLog: (files: readonly KeptFile[], columns: LogColumns | undefined): Promise<Reading<LogRead>> =>
      worker(async ({ remote }) => remote.readLog(files, columns)),
    openHistory: (files: readonly KeptFile[]): Promise<Reading<HistoryRead>> => worker(async ({ remote }) => remote.openHistory(files)),
    describeHistory: (roles: Roles, by: string | null | undefined): Promise<Reading<HistoryFit>> =>
      worker(async ({ remote }) => remote.describeHistory(roles, by)),
    fitLog: (log: RequestLog): Promise<LogFit> => worker(async ({ remote }) => remote.fitLog(log)),
    begunFromLog: (figures: Figures, machines: readonly Machine[], currency: string, from: FromLog): Promise<Reading<BegunPlan>> =>
      worker(async ({ remote }) => remote.begunFromLog(figures, machines, currency, from)),
    matchLog: (plan: Plan, log: RequestLog): Promise<Reading<MatchedLog>> => worker(async ({ remote }) => remote.matchLog(plan, log)),
    replaceLoad: (plan: Plan, log: RequestLog): Promise<Reading<ReplacedLoad>> =>
      worker(async ({ remote }) => remote.replaceLoad(plan, log)),
    /** Measured requests as a file, and back. */
    measuredRows: (rows: readonly ProbedRequest[]): Promise<string> => worker(async ({ remote }) => remote.measuredRows(rows)),
    readMeasured: (csv: string): Promise<Reading<ProbedRequest[]>> => worker(async ({ remote }) => remote.readMeasured(csv)),
    tellMeasured: (rows: readonly ProbedRequest[], served: Served, how?: string): Promise<Measured> =>
      worker(async ({ remote }) => remote.tellMeasured(rows, served, how)),
  }
})
