import { BadInput, readRequestLog, textOf, type Plan, type Problem, type RequestLog } from '@sandclock/core'
import { expose } from 'comlink'
import { PlanViews } from './planViews.ts'

/** A log, or what is wrong with the file. */
export type LogReading = { ok: true; log: RequestLog } | { ok: false; message: string; problems: readonly Problem[] }

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
  readLog(bytes: Uint8Array, name: string): LogReading {
    try {
      return {
        ok: true,
        log: readRequestLog(
          textOf(bytes, name, (b) => new TextDecoder().decode(b)),
          name,
        ),
      }
    } catch (error) {
      if (error instanceof BadInput) return { ok: false, message: error.message, problems: error.problems }
      throw error
    }
  },
}

export type ViewWorker = typeof worker
expose(worker)
