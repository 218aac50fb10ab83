import { waySeconds } from '../plan/way.ts'
import { BadInput } from '../plan/problem.ts'
import { isClosedLoop, isFromLog } from '../plan/arrivalKinds.ts'
import type { GeneratedArrivals, Plan, RequestClass, Size } from '../plan/schema.ts'
import { RandomStream } from '../random/stream.ts'
import { arrivalsAlong } from './arrivals.ts'
import { gapsOf, modulated } from './bursts.ts'
import { closedLoop, conversations, withHistories } from './chains.ts'
import { inOrderOfArrival, NO_LOAD, type Chains, type ClassLoad } from './classLoad.ts'
import type { RequestLog } from './log/requestLog.ts'
import { logLoad } from './log/logLoad.ts'
import { mergeLoads } from './merge.ts'
import { rateCurve } from './rate.ts'
import { membersOf, type Bytes, type Requests } from './requests.ts'
import { drawPairs, drawSizes } from './sizes.ts'

/** What a set of requests is made from. */
export interface Generation {
  seed: number
  /** matched to the plan's classes, when a class needs one */
  log?: RequestLog | undefined
  /**
   * multiplies the load: rates and clients of generated classes; a log is replayed this much faster, and from its start again until the
   * horizon is full
   */
  loadFactor?: number
  /** the name of the one class that it multiplies; all if left out */
  grown?: string | undefined
  /** leaves out the classes for which it says no; those that stay are unchanged but for their numbers */
  only?: (c: RequestClass) => boolean
  /** where to put them; see `emptyRequests` */
  bytes?: Bytes
}

/**
 * Every request of the plan for one seed. Streams depend on (seed, class name, purpose) alone, so a change of one
 * class leaves the others' requests as they were, and every candidate of a search sees the same ones.
 *
 * @throws Error when a class wants a log and none is given (callers check with `needsLog`)
 */
export function generateRequests(
  plan: Plan,
  { seed, log, loadFactor = 1, grown, only = () => true, bytes = ArrayBuffer }: Generation,
): Requests {
  const loads = plan.classes.map((c, i) =>
    only(c) ? new ClassMaker(plan, c, i, seed, log, grown === undefined || grown === c.name ? loadFactor : 1).make() : NO_LOAD,
  )
  const caps = plan.classes.map((c) => outputCap(plan, c.service))
  return mergeLoads(loads, caps, bytes)
}

/** What a class states that its requests are not drawn from: what is promised to them, and what they do once they are there. */
const NOT_DRAWN_FROM: ReadonlySet<string> = new Set<keyof RequestClass>([
  'targets',
  'patienceSeconds',
  'priority',
  'retries',
  'rateLimit',
  'cachedShare',
])

/** All that generated requests depend on, as a text: what is equal gives equal requests. */
export function drawnFrom(plan: Plan, seed: number, only: (c: RequestClass) => boolean): string {
  const classes = plan.classes.map((c) =>
    only(c) ? [Object.entries(c).filter(([name]) => !NOT_DRAWN_FROM.has(name)), outputCap(plan, c.service)] : null,
  )
  return JSON.stringify([seed, plan.horizon, classes])
}

/** Whether any class of the plan takes its arrivals or its sizes from a request log. */
export function needsLog(plan: Plan): boolean {
  return plan.classes.some((c) => [c.arrivals, c.input, c.output, c.work, c.items].some((part) => part?.kind === 'log'))
}

/** Makes the requests of one class. */
class ClassMaker {
  private readonly plan: Plan
  private readonly requestClass: RequestClass
  private readonly index: number
  private readonly seed: number
  private readonly log: RequestLog | undefined
  private readonly loadFactor: number

  constructor(plan: Plan, requestClass: RequestClass, index: number, seed: number, log: RequestLog | undefined, loadFactor: number) {
    this.plan = plan
    this.requestClass = requestClass
    this.index = index
    this.seed = seed
    this.log = log
    this.loadFactor = loadFactor
  }

  make(): ClassLoad {
    const { arrivals, turns, name } = this.requestClass
    if (isFromLog(arrivals)) {
      if (!this.log) throw new Error(`class "${name}" takes its load from a log, and no log is there`)
      return logLoad(
        this.log,
        this.index,
        this.plan.horizon.seconds,
        this.loadFactor,
        (size, n, purpose) => this.sizes(size, n, purpose),
        this.requestClass,
      )
    }
    if (isClosedLoop(arrivals)) return this.chained(this.away(closedLoop(arrivals, this.loadFactor, this.stream('thinking'))))
    const start = this.arrivals(arrivals)
    if (turns) return this.chained(this.away(conversations(turns, start, this.stream('turns'), this.stream('pauses'))))
    return { at: start, ...this.bothSizes(start.length) }
  }

  /** Who has an answer only after its way back sends the next, which has its own way to go. */
  private away(chains: Chains): Chains {
    const { there, wholeBack } = waySeconds(this.requestClass)
    return there + wholeBack === 0 ? chains : { ...chains, pause: chains.pause.map((p) => p + there + wholeBack) }
  }

  private stream(purpose: string): RandomStream {
    return new RandomStream(this.seed, this.requestClass.name, purpose)
  }

  private arrivals(arrivals: GeneratedArrivals): Float64Array {
    const { seconds, start } = this.plan.horizon
    const curve = modulated(rateCurve(arrivals, seconds, this.loadFactor, start), arrivals.bursts, this.stream('bursts'))
    return arrivalsAlong(curve, gapsOf(arrivals.bursts, this.stream('arrivals')))
  }

  private chained(chains: Chains): ClassLoad {
    const { input, output } = this.bothSizes(chains.pause.length)
    const most = this.requestClass.turns?.historyTokens
    const prompts = most === undefined ? input : withHistories(chains, input, output, most)
    const { place, ...order } = inOrderOfArrival(chains, this.plan.horizon.seconds)
    return { ...order, input: Int32Array.from(place, (p) => prompts[p]), output: Int32Array.from(place, (p) => output[p]) }
  }

  private bothSizes(count: number): { input: Int32Array; output: Int32Array } {
    const { input, output, work, items, lengthCorrelation } = this.requestClass
    if (work)
      return {
        input: this.drawn(work, count, 'work', 'input'),
        output: items ? this.drawn(items, count, 'items', 'output') : new Int32Array(count),
      }
    if (lengthCorrelation && input && output && input.kind !== 'log' && output.kind !== 'log') {
      const [prompts, answers] = drawPairs(input, output, lengthCorrelation, count, this.stream('input'), this.stream('output'))
      return { input: prompts, output: answers }
    }
    return { input: this.drawn(input, count, 'input', 'input'), output: this.drawn(output, count, 'output', 'output') }
  }

  private drawn(size: Size | undefined, count: number, purpose: string, column: 'input' | 'output'): Int32Array {
    return size?.kind === 'log' ? this.fromLog(column, count, purpose) : this.sizes(size, count, purpose)
  }

  /** Sizes drawn from the rows that the log has of a class, each row equally often. */
  private fromLog(column: 'input' | 'output', count: number, purpose: string): Int32Array {
    const { log, index, requestClass } = this
    if (!log) throw new Error(`class "${requestClass.name}" takes its sizes from a log, and no log is there`)
    const rows = membersOf(log.requests, index)
    if (rows.length === 0) {
      throw new BadInput('The request log does not have what the plan wants of it.', [
        {
          path: `classes[${index}].${purpose}`,
          found: '"log"',
          rule: `wants a log with rows of class "${requestClass.name}", and ${log.name} has none`,
        },
      ])
    }
    const random = this.stream(purpose)
    return Int32Array.from({ length: count }, () => log.requests[column][rows[Math.floor(random.next() * rows.length)]])
  }

  private sizes(size: Size | undefined, count: number, purpose: string): Int32Array {
    if (size === undefined || size.kind === 'log') return new Int32Array(count).fill(1)
    return drawSizes(size, count, this.stream(purpose))
  }
}

/** The longest answer of a service: its own cap, and what its model never exceeds. */
function outputCap(plan: Plan, serviceName: string): number {
  const service = plan.services.find((s) => s.name === serviceName)
  const model = plan.models.find((m) => m.name === service?.model)
  return Math.min(service?.limits?.outputCap ?? Infinity, (model && 'outputCap' in model ? model.outputCap : undefined) ?? Infinity)
}
