import { BadInput, type ProbedRequest, type ReadOrder } from '@sandclock/core'
import { runProbe, type ProbeRecord } from '@sandclock/outside'
import { randomUUID } from 'node:crypto'
import { Heard } from './heard.ts'

/** What a measurement says to whoever listens. */
export type ProbeSaid =
  | { event: 'rows'; data: readonly ProbedRequest[] }
  | { event: 'end'; data: Pick<ProbeRecord, 'cutShort' | 'spent'> }
  | { event: 'failure'; data: { message: string } }

export interface ProbeLimits {
  /** one that nobody listens to is stopped after so long: a page that is loaded again is back by then */
  unheardSeconds: number
  /** requests are told together, so often */
  togetherSeconds: number
}

export const PROBE_LIMITS: ProbeLimits = { unheardSeconds: 60, togetherSeconds: 0.1 }

/** One measurement under way, or done. */
class ProbeJob extends Heard<ProbeSaid> {
  private readonly rows: ProbedRequest[] = []
  private last: ProbeSaid | undefined

  protected soFar(): readonly ProbeSaid[] {
    return [{ event: 'rows', data: [...this.rows] }, ...(this.last ? [this.last] : [])]
  }

  protected note(said: ProbeSaid): boolean {
    if (said.event !== 'rows') {
      this.last = said
      return true
    }
    for (const row of said.data) this.rows.push(row)
    return false
  }
}

/** Measurements of the server, one at a time: two would measure each other. The last one that is done is kept for who comes back. */
export class ProbeJobs {
  private current: { id: string; job: ProbeJob } | undefined
  private readonly allowed: readonly string[]
  private readonly secrets: Readonly<Record<string, string | undefined>>
  private readonly limits: ProbeLimits

  constructor(allowed: readonly string[], secrets: Readonly<Record<string, string | undefined>>, limits: ProbeLimits) {
    this.allowed = allowed
    this.secrets = secrets
    this.limits = limits
  }

  get id(): string | undefined {
    return this.current?.id
  }

  get isRunning(): boolean {
    return this.current !== undefined && !this.current.job.done
  }

  /** Begins to measure. @returns its name; undefined while another is under way */
  begin(order: ReadOrder): string | undefined {
    if (this.isRunning) return undefined
    const job = new ProbeJob(this.limits.unheardSeconds)
    const id = randomUUID()
    this.current = { id, job }
    void this.measure(job, order)
    return id
  }

  listen(id: string, listener: (said: ProbeSaid) => void): (() => void) | undefined {
    return this.of(id)?.listen(listener)
  }

  /** Stops it; what it has is told still. @returns whether there is such */
  stop(id: string): boolean {
    const job = this.of(id)
    job?.stop()
    return job !== undefined
  }

  has(id: string): boolean {
    return this.of(id) !== undefined
  }

  private of(id: string): ProbeJob | undefined {
    return this.current?.id === id ? this.current.job : undefined
  }

  private async measure(job: ProbeJob, order: ReadOrder): Promise<void> {
    const told = new AbortController()
    job.stop = () => told.abort()
    let together: ProbedRequest[] = []
    const tell = () => {
      if (together.length > 0) job.say({ event: 'rows', data: together })
      together = []
    }
    const telling = setInterval(tell, this.limits.togetherSeconds * 1000)
    try {
      const asked = { ...order, allowed: this.allowed, environment: this.secrets }
      const { cutShort, spent } = await runProbe(asked, told.signal, { row: (row) => void together.push(row) })
      tell()
      job.say({ event: 'end', data: { ...(cutShort && { cutShort }), ...(spent !== undefined && { spent }) } })
    } catch (error) {
      if (!(error instanceof BadInput)) console.error(error)
      job.say({ event: 'failure', data: { message: error instanceof Error ? error.message : String(error) } })
    } finally {
      clearInterval(telling)
      job.release()
    }
  }
}
