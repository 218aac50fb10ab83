import { driveElsewhere, Load, recommend, type Answer, type Plan, type RecommendProgress } from '@sandclock/core'
import { TrialThreads, trialPool } from '@sandclock/threads'
import { createHash } from 'node:crypto'
import { Heard } from './heard.ts'

/** What a search says to whoever listens. */
export type Said =
  { event: 'progress'; data: RecommendProgress } | { event: 'answer'; data: Answer } | { event: 'failure'; data: { message: string } }

export interface Limits {
  /** searches at once; each has all threads for itself */
  searches: number
  /** a search that takes longer is ended */
  seconds: number
  /** one that nobody listens to is ended after so long: a page that is loaded again is back by then */
  unheardSeconds: number
  /** answers that are kept for those who come back */
  kept: number
}

export const LIMITS: Limits = { searches: 2, seconds: 3600, unheardSeconds: 60, kept: 8 }

/** One search under way, or done. */
class SearchJob extends Heard<Said> {
  last: Said | undefined

  protected soFar(): readonly Said[] {
    return this.last ? [this.last] : []
  }

  protected note(said: Said): boolean {
    this.last = said
    return said.event !== 'progress'
  }
}

/**
 * Searches of the server, by the plan that they answer: who asks for the same plan again, after the page was loaded anew or
 * from another one, joins the search that is under way or gets the answer that was found.
 */
export class SearchJobs {
  private readonly jobs = new Map<string, SearchJob>()
  private readonly threads: number
  private readonly limits: Limits
  private readonly worker: URL | undefined
  /** one set of threads for all searches: see `TrialThreads` */
  private shared: TrialThreads | undefined

  constructor(threads: number, limits: Limits = LIMITS, worker?: URL) {
    this.threads = threads
    this.limits = limits
    this.worker = worker
  }

  get running(): number {
    return [...this.jobs.values()].filter((j) => !j.done).length
  }

  /** Begins a search, or finds the one of the same plan. @returns its name; undefined when there is no room for another */
  begin(plan: Plan, text: string): string | undefined {
    const id = createHash('sha256').update(text).digest('hex').slice(0, 32)
    const known = this.jobs.get(id)
    if (known && known.last?.event !== 'failure') return id
    if (this.running >= this.limits.searches) return undefined
    const job = new SearchJob(this.limits.unheardSeconds)
    this.jobs.set(id, job)
    void this.search(job, plan).finally(() => this.forget())
    return id
  }

  get(id: string): SearchJob | undefined {
    return this.jobs.get(id)
  }

  listen(id: string, listener: (said: Said) => void): (() => void) | undefined {
    return this.jobs.get(id)?.listen(listener)
  }

  /** Ends a search at once. @returns whether there was one */
  stop(id: string): boolean {
    const job = this.jobs.get(id)
    if (!job) return false
    job.stop()
    this.jobs.delete(id)
    return true
  }

  private async search(job: SearchJob, plan: Plan): Promise<void> {
    const load = new Load(plan, undefined, this.threads > 1 ? SharedArrayBuffer : ArrayBuffer)
    const pool =
      this.threads > 1 ? (this.shared ??= new TrialThreads(this.threads, this.worker)).trials(plan, load) : trialPool(plan, load, 1)
    job.stop = () => {
      job.say({ event: 'failure', data: { message: 'The search was stopped.' } })
      void pool.stop()
    }
    const limit = setTimeout(() => {
      job.say({
        event: 'failure',
        data: {
          message: `The search took longer than the ${this.limits.seconds / 60} minutes that this server gives one. Narrow it down: fewer machines, sequence limits or policies.`,
        },
      })
      void pool.stop()
    }, this.limits.seconds * 1000)
    try {
      job.say({ event: 'answer', data: await driveElsewhere(recommend(plan, load), pool, (data) => job.say({ event: 'progress', data })) })
    } catch (error) {
      job.say({ event: 'failure', data: { message: error instanceof Error ? error.message : String(error) } })
    } finally {
      clearTimeout(limit)
      await pool.stop()
      job.release()
    }
  }

  /** Of those that are done the oldest go. */
  private forget(): void {
    const done = [...this.jobs].filter(([, j]) => j.done)
    for (const [id] of done.slice(0, Math.max(0, done.length - this.limits.kept))) this.jobs.delete(id)
  }
}
