import { askedAt, BadInput, happenedWords, matchLog, probedCsv, readProbed, replaceLoad, tellMeasured } from '@sandclock/core'
import type {
  Figures,
  FromLog,
  HistoryFit,
  LogColumns,
  LogFile,
  LogFit,
  LogPeek,
  Machine,
  MatchedLog,
  Measured,
  Plan,
  ProbedRequest,
  Problem,
  ReplacedLoad,
  RequestLog,
  Roles,
  Served,
} from '@sandclock/core'
import { expose } from 'comlink'
import type { KeptFile } from '../data/database.ts'
import type { HistoryRead } from './histories.ts'
import { PlanViews } from './planViews.ts'

/** What was read, or what is wrong with the file. */
export type Reading<T> = { ok: true; value: T } | { ok: false; message: string; problems: readonly Problem[] }

export interface LogRead {
  log: RequestLog
  happened: string
}

export interface BegunPlan {
  plan: Plan
  text: string
}

/** What may be asked of the views of a plan. */
export type Questions = Pick<
  PlanViews,
  { [K in keyof PlanViews]: PlanViews[K] extends (...args: never[]) => unknown ? K : never }[keyof PlanViews]
>

let views: PlanViews | undefined

const worker = {
  setPlan(plan: Plan, log: RequestLog | undefined): void {
    views = new PlanViews(plan, log)
  },
  /** The answer of the views of the plan that was set last; undefined before there is one. */
  ask(question: keyof Questions, args: readonly unknown[]): unknown {
    return views && (views[question] as (...args: unknown[]) => unknown).apply(views, [...args]) // typed where it is asked
  },
  peekLog(files: readonly KeptFile[]): Promise<Reading<LogPeek>> {
    return reading(async () => (await readers()).peekLog(await opened(files.slice(0, 1))))
  },
  /** @returns the log, and what it says that really happened */
  readLog(files: readonly KeptFile[], columns: LogColumns | undefined): Promise<Reading<LogRead>> {
    return reading(async () => {
      const log = await (await readers()).readRequestLog(await opened(files), columns, BYTES)
      return { log, happened: happenedWords(log) }
    })
  },
  openHistory: (files: readonly KeptFile[]): Promise<Reading<HistoryRead>> =>
    reading(async () =>
      (await readers()).openHistory(await Promise.all(files.map(async ({ name, bytes }) => ({ name, text: await bytes.text() })))),
    ),
  describeHistory: (roles: Roles, by: string | null | undefined): Promise<Reading<HistoryFit>> =>
    reading(async () => (await readers()).describeHistory(roles, by)),
  fitLog: async (log: RequestLog): Promise<LogFit> => (await readers()).fitLog(log),
  /** @returns the plan, and the file in which it says what each field is by */
  begunFromLog: (figures: Figures, machines: readonly Machine[], currency: string, from: FromLog): Promise<Reading<BegunPlan>> =>
    reading(async () => {
      const { plan, text } = (await readers()).begunFromLog(figures, machines, currency, from)
      return { plan, text }
    }),
  matchLog: (plan: Plan, log: RequestLog): Promise<Reading<MatchedLog>> => reading(async () => matchLog(plan, log, BYTES)),
  replaceLoad: (plan: Plan, log: RequestLog): Promise<Reading<ReplacedLoad>> => reading(async () => replaceLoad(plan, log, BYTES)),
  measuredRows: (rows: readonly ProbedRequest[]): string => [...probedCsv(rows)].join(''),
  readMeasured: (csv: string): Promise<Reading<ProbedRequest[]>> => reading(async () => readProbed(csv)),
  /** @param how they were asked, which may say what a request costs */
  tellMeasured: (rows: readonly ProbedRequest[], served: Served, how = ''): Measured => tellMeasured(rows, served, askedAt(how).price),
}

const readers = () => import('./logReaders.ts')
/** Where memory can be shared, a log of millions of rows goes from thread to thread without being copied. */
const BYTES = globalThis.crossOriginIsolated ? SharedArrayBuffer : ArrayBuffer

const opened = (files: readonly KeptFile[]): Promise<LogFile[]> =>
  Promise.all(files.map(async ({ name, bytes }) => ({ name, bytes: new Uint8Array(await bytes.arrayBuffer()) })))

async function reading<T>(read: () => Promise<T>): Promise<Reading<T>> {
  try {
    return { ok: true, value: await read() }
  } catch (error) {
    if (error instanceof BadInput) return { ok: false, message: error.message, problems: error.problems }
    throw error
  }
}

export type ViewWorker = typeof worker
expose(worker)
