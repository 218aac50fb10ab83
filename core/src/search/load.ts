import { isFromLog } from '../plan/arrivalKinds.ts'
import { drawnFrom, generateRequests } from '../demand/generate.ts'
import type { RequestLog } from '../demand/log/requestLog.ts'
import { ofClasses, type Bytes, type Requests } from '../demand/requests.ts'
import type { TrialOrder } from './order.ts'
import type { Plan, RequestClass, Service } from '../plan/schema.ts'

const MULTIPLES_KEPT = 3
const SHELF_PLACES = 12

/**
 * Requests of former searches, by what they were drawn from: most changes of a plan leave them as they were. Those that were
 * wanted last stay.
 */
export class RequestShelf {
  private readonly byContent = new Map<string, Requests>()

  of(content: string, make: () => Requests): Requests {
    const found = this.byContent.get(content) ?? make()
    this.byContent.delete(content)
    this.byContent.set(content, found)
    if (this.byContent.size > SHELF_PLACES) this.byContent.delete([...this.byContent.keys()][0])
    return found
  }
}

/** Where a search takes its requests from: made once for each seed, then the same for every candidate. */
export class Load {
  readonly plan: Plan
  private readonly log: RequestLog | undefined
  private readonly bytes: Bytes
  private readonly shelf: RequestShelf | undefined
  private readonly bySeed = new Map<string, Requests>()
  /** multiples of the load that were asked for last */
  private readonly multiples = new Map<string, Requests>()

  /**
   * @param log matched to the plan's classes (see `matchLog`), when a class needs one
   * @param bytes SharedArrayBuffer where other threads are to read the requests without a copy
   * @param shelf where requests that no log has part in are kept for the next search
   */
  constructor(plan: Plan, log?: RequestLog, bytes: Bytes = ArrayBuffer, shelf?: RequestShelf) {
    this.plan = plan
    this.log = log
    this.bytes = bytes
    this.shelf = shelf
  }

  /** The requests that a trial is made on. */
  forOrder(service: Service, { repetition, loadFactor, grown }: Pick<TrialOrder, 'repetition' | 'loadFactor' | 'grown'>): Requests {
    return loadFactor === 1 ? this.of(service, repetition) : this.multiplied(service, loadFactor, grown, repetition)
  }

  /** All requests of the plan for the repetition (0 is the plan's own seed). */
  all(repetition: number): Requests {
    return this.remembered(String(repetition), () => this.drawn(repetition))
  }

  private drawn(repetition: number, only: (c: RequestClass) => boolean = () => true): Requests {
    const seed = this.plan.seed + repetition
    const draw = () => generateRequests(this.plan, { seed, log: this.log, bytes: this.bytes, only })
    return this.shelf && !this.log ? this.shelf.of(drawnFrom(this.plan, seed, only), draw) : draw()
  }

  /** The requests of one service. */
  of(service: Service, repetition: number): Requests {
    const mine = this.plan.classes.map((c) => c.service === service.name)
    if (mine.every(Boolean)) return this.all(repetition)
    const all = this.bySeed.get(String(repetition))
    // Streams depend on seed, class and purpose alone: drawing only these classes draws the same requests.
    return this.remembered(`${repetition} ${service.name}`, () =>
      all ? ofClasses(all, mine, this.bytes) : this.drawn(repetition, (c) => c.service === service.name),
    )
  }

  /**
   * The requests of one service under a multiple of the load, of the first repetition if none is named; only the last few are remembered.
   *
   * @param grown the one class that is multiplied; all if left out
   */
  multiplied(service: Service, factor: number, grown?: string, repetition = 0): Requests {
    const key = JSON.stringify([factor, service.name, grown, repetition])
    const known = this.multiples.get(key)
    if (known) return known
    const made = generateRequests(this.plan, {
      seed: this.plan.seed + repetition,
      log: this.log,
      loadFactor: factor,
      grown,
      only: (c) => c.service === service.name,
      bytes: this.bytes,
    })
    if (this.multiples.size >= MULTIPLES_KEPT) this.multiples.delete([...this.multiples.keys()][0])
    this.multiples.set(key, made)
    return made
  }

  /**
   * How many repetitions differ: one when every class of the service replays a log with its own sizes, since chance
   * has no part in it.
   */
  repetitions(service: Service): number {
    const replayed = this.plan.classes
      .filter((c) => c.service === service.name)
      .every(
        (c) => isFromLog(c.arrivals) && [c.input, c.output, c.work].every((s) => s === undefined || s.kind === 'log' || s.kind === 'fixed'),
      )
    return replayed ? 1 : this.plan.repetitions
  }

  private remembered(key: string, make: () => Requests): Requests {
    const known = this.bySeed.get(key)
    if (known) return known
    const made = make()
    this.bySeed.set(key, made)
    return made
  }
}
