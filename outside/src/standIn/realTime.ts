import { LiveRun, type Plan, type RunSpec } from '@sandclock/core'

/** Who asked, and hears of it, by the number of the request; times are seconds since the begin, as the run has them. */
export interface Caller {
  /** so many more tokens of the answer, parts of one where drafts are accepted on average */
  tokens(count: number, seconds: number, request: number): void
  /** it is answered, refused or lost: see the record of the run */
  ended(seconds: number, request: number): void
}

/** How long before something is due the clock is asked again and again: timers come up to so much late. */
const CLOSE_MILLISECONDS = 2

/** A configuration that is run by the real clock, or as much faster: whoever asks hears of every token when it is due. */
export class RealTime {
  readonly run: LiveRun
  private readonly callers = new Map<number, Caller>()
  private readonly begin = performance.now()
  private readonly speed: number
  private timer: NodeJS.Timeout | undefined
  private close: NodeJS.Immediate | undefined
  private dueSeconds = Infinity

  /** @param capacity requests that it takes in all */
  constructor(plan: Plan, spec: RunSpec, speed: number, capacity: number) {
    this.speed = speed
    const listener = {
      tokens: (request: number, count: number, seconds: number) => this.callers.get(request)?.tokens(count, seconds, request),
      ended: (request: number, seconds: number) => {
        this.callers.get(request)?.ended(seconds, request)
        this.callers.delete(request)
      },
    }
    this.run = new LiveRun(plan, spec, listener, capacity)
    this.goOn()
  }

  /** Seconds since the begin, as the run has them. */
  now(): number {
    return ((performance.now() - this.begin) / 1000) * this.speed
  }

  /** Takes a request that comes now. @returns its number; undefined when no more are taken */
  ask(classIndex: number, input: number, output: number, caller: Caller): number | undefined {
    const now = this.now()
    const request = this.run.arrive(now, classIndex, input, output)
    if (request === undefined) return undefined
    this.callers.set(request, caller)
    this.run.advance(now)
    this.goOn()
    return request
  }

  /** Nobody hears of a request any more. */
  forget(request: number): void {
    this.callers.delete(request)
  }

  stop(): void {
    clearTimeout(this.timer)
    if (this.close) clearImmediate(this.close)
    this.callers.clear()
  }

  /** Waits for what happens next. */
  private goOn(): void {
    const next = this.run.nextTime()
    if (next === this.dueSeconds && (this.timer || this.close)) return
    clearTimeout(this.timer)
    if (this.close) clearImmediate(this.close)
    this.timer = this.close = undefined
    this.dueSeconds = next
    if (next !== Infinity) this.await(next)
  }

  private await(seconds: number): void {
    const left = ((seconds - this.now()) * 1000) / this.speed
    // Longer timers than this are none.
    if (left > CLOSE_MILLISECONDS) this.timer = setTimeout(() => this.await(seconds), Math.min(left - CLOSE_MILLISECONDS, 1e9))
    else if (left > 0) this.close = setImmediate(() => this.await(seconds))
    else this.happen()
  }

  private happen(): void {
    this.timer = this.close = undefined
    this.dueSeconds = Infinity
    this.run.advance(this.now())
    this.goOn()
  }
}
