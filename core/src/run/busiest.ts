import { remembered } from '../demand/remembered.ts'
import { pick, type Requests } from '../demand/requests.ts'
import type { Plan, Service } from '../plan/schema.ts'
import { firstNotBelow } from '../units/ascending.ts'
import { ROUTINGS } from '../plan/ways.ts'

/** A stretch is so small a part of the horizon. */
const PART = 24
/** With fewer requests in it nothing is saved by running it alone. */
const LEAST_REQUESTS = 20

/** The stretch of the horizon with most to do, and its requests alone. */
export interface Busiest {
  fromSeconds: number
  untilSeconds: number
  requests: Requests
}

/**
 * Whether it may be told from a stretch alone that a configuration misses. It is assumed that a service does no worse without
 * those who came before, with all its replicas idle and ready at the start. Left out are loads of which those who come depend
 * on the run; limits on rates, which refuse fewer of fewer; and retries that go by the number of a request, which is another
 * in a stretch (of routing see {@link routesByState}). Of few requests there is no stretch.
 */
export function hasBusiest(plan: Plan, service: Service, requests: Requests): boolean {
  const plain = plan.classes.every((c) => c.service !== service.name || (!c.rateLimit && !c.retries))
  return plain && requests.chain === undefined && busiestOf(plan, requests) !== undefined
}

/** Whether it does not matter to the routing who came before: other ways go by turns, or by the number of a request. */
export const routesByState = ({ routing }: Service): boolean => ROUTINGS[routing].byState

/** The busiest stretch of a service's requests; undefined where they are few. */
export function busiestOf(plan: Plan, requests: Requests): Busiest | undefined {
  const { seconds } = plan.horizon
  return remembered(requests, `busiest of ${seconds} s`, () => findBusiest(requests, seconds))
}

/**
 * Stretches begin on halves of their length. Busy is what has the largest shares of requests, of input and of output together, whatever
 * serves them.
 */
function findBusiest(requests: Requests, horizonSeconds: number): Busiest | undefined {
  const { at, input, output, count } = requests
  const halfSeconds = horizonSeconds / PART / 2
  const halves = Array.from({ length: 2 * PART + 1 }, () => ({ count: 0, input: 0, output: 0 }))
  const total = { count: 0, input: 0, output: 0 }
  for (let i = 0; i < count; i++) {
    const half = halves[Math.min(2 * PART, Math.floor(at[i] / halfSeconds))]
    half.count++
    half.input += input[i]
    half.output += output[i]
  }
  for (const half of halves) for (const of of ['count', 'input', 'output'] as const) total[of] += half[of]
  const busy = halves.map(
    (h) => h.count / Math.max(1, total.count) + h.input / Math.max(1, total.input) + h.output / Math.max(1, total.output),
  )
  let best = 0
  for (let h = 0; h + 1 < 2 * PART; h++) if (busy[h] + busy[h + 1] > busy[best] + busy[best + 1]) best = h
  const [fromSeconds, untilSeconds] = [best * halfSeconds, (best + 2) * halfSeconds]
  const first = firstNotBelow(at, fromSeconds, count)
  const last = firstNotBelow(at, untilSeconds, count)
  if (last - first < LEAST_REQUESTS) return undefined
  return {
    fromSeconds,
    untilSeconds,
    requests: pick(
      requests,
      Int32Array.from({ length: last - first }, (_, i) => first + i),
    ),
  }
}
