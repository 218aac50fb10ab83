import { BadInput } from '../plan/problem.ts'
import type { Plan, RequestClass, Size } from '../plan/schema.ts'
import { RandomStream } from '../random/stream.ts'
import { poissonArrivals } from './arrivals.ts'
import type { RequestLog } from './log/requestLog.ts'
import { logLoad } from './log/logLoad.ts'
import { rateCurve } from './rate.ts'
import { emptyRequests, membersOf, type Requests } from './requests.ts'
import { drawSizes } from './sizes.ts'

/** The requests of one class before they are merged with the others. */
export interface ClassLoad {
  at: Float64Array
  input: Int32Array
  output: Int32Array
  /** row in the log, for classes that come from one */
  id?: Int32Array
}

/**
 * Every request of the plan for one seed. Streams depend on (seed, class name, purpose) alone, so a change of one
 * class leaves the others' requests as they were, and every candidate of a search sees the same ones.
 *
 * @param loadFactor multiplies the load: rates of generated classes; a log is replayed this much faster, and from its
 *   start again until the horizon is full
 * @param only leaves out the classes for which it says no; those that stay are unchanged but for their numbers
 * @throws Error when a class wants a log and none is given (callers check with `needsLog`)
 */
export function generateRequests(plan: Plan, seed: number, log?: RequestLog, loadFactor = 1, only: (c: RequestClass) => boolean = () => true): Requests {
  return merge(plan.classes.map((c, i) => (only(c) ? classLoad(plan, c, i, seed, log, loadFactor) : NO_LOAD)))
}

const NO_LOAD: ClassLoad = { at: new Float64Array(0), input: new Int32Array(0), output: new Int32Array(0) }

/** Whether any class of the plan takes its arrivals or its sizes from a request log. */
export function needsLog(plan: Plan): boolean {
  return plan.classes.some((c) => [c.arrivals, c.input, c.output, c.work].some((part) => part?.kind === 'log'))
}

function classLoad(plan: Plan, requestClass: RequestClass, index: number, seed: number, log: RequestLog | undefined, loadFactor: number): ClassLoad {
  const horizonSeconds = plan.horizon.seconds
  if (requestClass.arrivals.kind === 'log') {
    if (!log) throw new Error(`class "${requestClass.name}" takes its load from a log, and no log is there`)
    return logLoad(log, index, horizonSeconds, loadFactor, (size, n, purpose) => sizes(size, n, seed, requestClass, purpose), requestClass)
  }
  const curve = rateCurve(requestClass.arrivals, horizonSeconds, loadFactor)
  const at = poissonArrivals(curve, new RandomStream(seed, requestClass.name, 'arrivals'))
  const work = requestClass.work
  const draw = (size: Size | undefined, purpose: string, column: 'input' | 'output') =>
    size?.kind === 'log' ? fromLog(log, index, column, at.length, seed, requestClass, purpose) : sizes(size, at.length, seed, requestClass, purpose)
  return {
    at,
    input: draw(work ?? requestClass.input, work ? 'work' : 'input', 'input'),
    output: work ? new Int32Array(at.length) : draw(requestClass.output, 'output', 'output'),
  }
}

/** Sizes drawn from the rows that the log has of a class, each row equally often. */
function fromLog(log: RequestLog | undefined, index: number, column: 'input' | 'output', count: number, seed: number, requestClass: RequestClass, purpose: string): Int32Array {
  if (!log) throw new Error(`class "${requestClass.name}" takes its sizes from a log, and no log is there`)
  const rows = membersOf(log.requests, index)
  if (rows.length === 0) {
    throw new BadInput('The request log does not have what the plan wants of it.', [
      { path: `classes[${index}].${purpose}`, found: '"log"', rule: `wants a log with rows of class "${requestClass.name}", and ${log.name} has none` },
    ])
  }
  const random = new RandomStream(seed, requestClass.name, purpose)
  return Int32Array.from({ length: count }, () => log.requests[column][rows[Math.floor(random.next() * rows.length)]])
}

function sizes(size: Size | undefined, count: number, seed: number, requestClass: RequestClass, purpose: string): Int32Array {
  if (size === undefined || size.kind === 'log') return new Int32Array(count).fill(1)
  return drawSizes(size, count, new RandomStream(seed, requestClass.name, purpose))
}

/** Merges classes by (arrival, class, place in the class). */
function merge(loads: readonly ClassLoad[]): Requests {
  const out = emptyRequests(loads.reduce((sum, l) => sum + l.at.length, 0))
  const heads = loads.map(() => 0)
  for (let i = 0; i < out.count; i++) {
    let c = -1
    for (let j = 0; j < loads.length; j++) {
      if (heads[j] < loads[j].at.length && (c < 0 || loads[j].at[heads[j]] < loads[c].at[heads[c]])) c = j
    }
    const h = heads[c]++
    out.at[i] = loads[c].at[h]
    out.classIndex[i] = c
    out.input[i] = loads[c].input[h]
    out.output[i] = loads[c].output[h]
    out.id[i] = loads[c].id?.[h] ?? i + 1
  }
  return out
}
