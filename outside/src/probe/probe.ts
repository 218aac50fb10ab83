import { setMaxListeners } from 'node:events'
import { setImmediate, setTimeout } from 'node:timers/promises'
import { Agent } from 'undici'
import {
  BadInput,
  headersWith,
  partsOfShape,
  priceOfTime,
  shownBy,
  summarisePart,
  type Asking,
  type CutShort,
  type HowToAsk,
  type PartShown,
  type PartSummary,
  type ProbeBounds,
  type ProbedRequest,
  type ProbePart,
  type ProbePromise,
  type ProbeShape,
} from '@sandclock/core'
import { isAllowed } from '../allowed.ts'
import { Asker } from './ask.ts'

export interface ProbeOrder {
  how: HowToAsk
  shape: ProbeShape
  bounds: ProbeBounds
  promise?: ProbePromise
  /** machines that may be asked beside this one */
  allowed: readonly string[]
  environment: Readonly<Record<string, string | undefined>>
}

export interface ProbeRecord {
  rows: ProbedRequest[]
  parts: PartSummary[]
  /** why it ended before its load did; undefined where it did not */
  cutShort?: CutShort
  /** what it cost, where prices are said */
  spent?: number
}

/** Requests that are under way at once, at the most: each has a connection. */
const MOST_UNDER_WAY = 4096
const LAST_SECONDS = 0.002
/** Timers can not wait longer. */
const LONGEST_MS = 2_147_483_647

/**
 * Sends a load to an endpoint and measures it.
 *
 * @param tell given each request when it ended, and each part
 * @param told ends it; what there is until then is kept
 * @throws BadInput for a machine that may not be asked, and a secret that the environment does not have
 */
export async function runProbe(
  order: ProbeOrder,
  told: AbortSignal,
  tell: { row?: (row: ProbedRequest) => void; part?: (part: PartSummary) => void } = {},
): Promise<ProbeRecord> {
  const { hostname } = new URL(order.how.url)
  if (!isAllowed(hostname, order.allowed))
    throw new BadInput('The endpoint can not be asked.', [
      { path: 'url', found: hostname, rule: `names another machine than this one; say --allow-host ${hostname} to have it asked` },
    ])
  return new Probe(order, told, tell).run()
}

class Probe {
  private readonly order: ProbeOrder
  private readonly tell: NonNullable<Parameters<typeof runProbe>[2]>
  private readonly connections = new Agent({ connections: MOST_UNDER_WAY, pipelining: 1, keepAliveTimeout: 60_000 })
  private readonly asker: Asker
  private readonly ending = new AbortController()
  private readonly began = performance.now()
  private readonly rows: ProbedRequest[] = []
  private cutShort: ProbeRecord['cutShort']
  private number = 0
  private underWay = 0
  /** what was spent on requests, with what those that are under way may cost */
  private money = 0

  constructor(order: ProbeOrder, told: AbortSignal, tell: Probe['tell']) {
    this.order = order
    this.tell = tell
    this.asker = new Asker(order.how, headersWith(order.how, order.environment), this.connections, this.now)
    // Everybody who is under way listens for the end.
    setMaxListeners(0, this.ending.signal)
    const stop = () => this.cut('told')
    if (told.aborted) stop()
    told.addEventListener('abort', stop, { once: true })
  }

  private readonly now = (): number => (performance.now() - this.began) / 1000

  async run(): Promise<ProbeRecord> {
    const { shape, bounds, promise } = this.order
    const over = new AbortController()
    void setTimeout(Math.min(bounds.seconds * 1000, LONGEST_MS), undefined, { signal: over.signal }).then(
      () => this.cut('seconds'),
      () => undefined,
    )
    const parts: PartSummary[] = []
    const load = partsOfShape(shape)
    try {
      let shown: PartShown = { perSecond: 0, kept: true }
      for (let next = load.next(shown); !next.done && !this.cutShort; next = load.next(shown)) {
        const part = await this.runPart(next.value)
        if (part.requests === 0 && this.cutShort) break
        parts.push(part)
        this.tell.part?.(part)
        shown = shownBy(part, promise)
      }
    } finally {
      over.abort()
      await this.connections.destroy()
    }
    const { price } = this.order.how
    const spent = price && { spent: this.money + priceOfTime(price, this.now()) }
    return { rows: this.rows, parts, ...(this.cutShort && { cutShort: this.cutShort }), ...spent }
  }

  private cut(by: NonNullable<ProbeRecord['cutShort']>): void {
    this.cutShort ??= by
    this.ending.abort()
  }

  private async runPart(part: ProbePart): Promise<PartSummary> {
    const before = this.rows.length
    if (part.idleSeconds !== undefined) await this.until(this.now() + part.idleSeconds)
    if (part.kind === 'closed') await this.closed(part)
    else await this.open(part)
    return summarisePart(part.label, this.rows.slice(before))
  }

  /** Callers who come again when they have their answer. */
  private async closed(part: ProbePart & { kind: 'closed' }): Promise<void> {
    const left = part.asking[Symbol.iterator]()
    const caller = async () => {
      for (let due = this.now(), next = left.next(); !next.done && this.mayAsk(next.value); due = this.now(), next = left.next())
        await this.ask(part, due, next.value)
    }
    await Promise.all(Array.from({ length: part.clients }, caller))
  }

  /** Requests at their times, whether or not the ones before are answered. */
  private async open(part: ProbePart & { kind: 'open' }): Promise<void> {
    const from = this.now()
    const asked: Promise<void>[] = []
    for (const [i, at] of part.due.entries()) {
      await this.until(from + at)
      if (!this.mayAsk(part.asking[i])) break
      asked.push(this.ask(part, from + at, part.asking[i]))
    }
    await Promise.all(asked)
  }

  /** Whether the bounds allow for one more; ends the probe where they do not, without cutting off who is under way. */
  private mayAsk({ input, output }: Asking): boolean {
    if (this.cutShort) return false
    const { bounds, how } = this.order
    if (this.number >= bounds.requests) this.cutShort = 'requests'
    const price = this.priceOf(input, output)
    const [now, outAt] = [this.now(), this.moneyIsOutAt()]
    if (now >= outAt || (how.price && this.money + priceOfTime(how.price, now) + price > bounds.money)) this.cutShort = 'money'
    if (this.cutShort) return false
    this.money += price
    return true
  }

  private priceOf(input: number, output: number): number {
    const { price } = this.order.how
    return price ? price.perRequest + price.perInputToken * input + price.perOutputToken * output : 0
  }

  private async ask(part: ProbePart, due: number, asking: Asking): Promise<void> {
    this.underWay++
    const sending = { number: this.number++, part: part.label, warmUp: part.warmUp ?? false, due, atOnce: this.underWay, asking }
    const row = await this.asker.ask(sending, this.ending.signal)
    this.underWay--
    // What it was in the end, in place of what it could have been.
    this.money += this.priceOf(row.input, row.output) - this.priceOf(asking.input, asking.output)
    this.rows.push(row)
    this.tell.row?.(row)
  }

  /** When all that it may cost is spent if nothing more is asked, in seconds; time costs as well. */
  private moneyIsOutAt(): number {
    const { how, bounds } = this.order
    const perSecond = how.price ? priceOfTime(how.price, 1) : 0
    return perSecond > 0 ? (bounds.money - this.money) / perSecond : Infinity
  }

  /** Timers go by whole milliseconds: the last ones are waited for turn by turn. Who has no money for what comes then waits no longer. */
  private async until(then: number): Promise<void> {
    const { signal } = this.ending
    const at = Math.min(then, this.moneyIsOutAt())
    const longAt = at - LAST_SECONDS
    if (this.now() < longAt) await setTimeout((longAt - this.now()) * 1000, undefined, { signal }).catch(() => undefined)
    while (this.now() < at && !signal.aborted) await setImmediate()
  }
}
