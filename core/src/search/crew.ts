import type { Requests } from '../demand/requests.ts'
import type { Trials } from './drive.ts'
import type { Load } from './load.ts'
import type { TrialOrder, TrialResult } from './order.ts'
import { serviceOf } from './trialRunner.ts'

/** An order with the requests that it is made on, as a helper gets it. */
export interface Errand {
  order: TrialOrder
  /** names the requests; those of a repetition are sent once and kept, multiples of the load are sent each time */
  key: string
  keep: boolean
  /** absent when the helper has them */
  requests?: Requests
}

/** Another thread that carries out one order at a time. */
export interface Helper {
  /** @returns the result; rejects with {@link HelperDied} when the thread is gone, with anything else when the order itself failed */
  run(errand: Errand): Promise<TrialResult>
  end(): void
}

/** The thread of a helper is gone; its order can be done by another. */
export class HelperDied extends Error {}

/** An order that costs so many helpers their lives is given up. */
const MOST_DEATHS = 3

interface Member {
  helper: Helper
  has: Set<string>
}

/**
 * Helpers that share the orders of a search: whoever is free takes the next. Requests are made once, here, and shared
 * with all. One that dies is replaced and its order done anew.
 */
export class Crew implements Trials {
  private readonly start: () => Helper
  private readonly load: Load
  private readonly members = new Set<Member>()
  private readonly free: Member[] = []
  private readonly waiting: ((member: Member) => void)[] = []
  private stopped = false

  readonly solve: Trials['solve']

  /** @param start starts a helper */
  constructor(start: () => Helper, count: number, load: Load, solve: Trials['solve']) {
    this.start = start
    this.load = load
    this.solve = solve
    this.growTo(count)
  }

  /** Starts helpers until there are so many. */
  growTo(count: number): void {
    while (!this.stopped && this.members.size < count) this.hire()
  }

  async run(order: TrialOrder): Promise<TrialResult> {
    for (let deaths = 0; ; deaths++) {
      const member = await this.next()
      try {
        const result = await member.helper.run(this.errand(member, order))
        this.release(member)
        return result
      } catch (error) {
        if (this.stopped || !(error instanceof HelperDied) || deaths + 1 >= MOST_DEATHS) {
          if (error instanceof HelperDied) this.replace(member)
          else this.release(member)
          throw error
        }
        this.replace(member)
      }
    }
  }

  stop(): Promise<void> {
    this.stopped = true
    for (const { helper } of this.members) helper.end()
    this.members.clear()
    this.free.length = 0
    return Promise.resolve()
  }

  private errand(member: Member, order: TrialOrder): Errand {
    const service = serviceOf(this.load.plan, order)
    const keep = order.loadFactor === 1
    const key = `${order.service} ${order.repetition} ${order.loadFactor} ${order.grown ?? ''}`
    if (member.has.has(key)) return { order, key, keep }
    if (keep) member.has.add(key)
    return { order, key, keep, requests: this.load.forOrder(service, order) }
  }

  private next(): Promise<Member> {
    const member = this.free.pop()
    return member ? Promise.resolve(member) : new Promise((resolve) => this.waiting.push(resolve))
  }

  private release(member: Member): void {
    if (this.stopped) return
    const next = this.waiting.shift()
    if (next) next(member)
    else this.free.push(member)
  }

  private hire(): void {
    const member = { helper: this.start(), has: new Set<string>() }
    this.members.add(member)
    this.release(member)
  }

  private replace(member: Member): void {
    this.members.delete(member)
    member.helper.end()
    if (!this.stopped) this.hire()
  }
}
