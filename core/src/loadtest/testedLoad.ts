import type { Requests } from '../demand/requests.ts'
import { percentileOf } from '../measure/percentile.ts'
import type { Plan, RequestClass, Service, Size } from '../plan/schema.ts'

/** Which requests a load test sends: as the class has them, or all of one size, short or long for it. */
export const SENT = ['as drawn', 'short', 'long'] as const
export type Sent = (typeof SENT)[number]

/** What a load test sends. */
export interface TestedLoad {
  className: string
  sent: Sent
}

/** Share of the requests of a class that are no larger. */
const SHARES = { short: 0.1, long: 0.9 } as const
/** As many values as an empirical distribution may list. */
const MOST_VALUES = 20_000

/** Words for how large what is sent is. @example sentWords('short') // 'short requests (10 of 100 are shorter)' */
export function sentWords(sent: Sent): string {
  if (sent === 'as drawn') return 'requests as they come'
  return sent === 'short' ? 'short requests (10 of 100 are shorter)' : 'long requests (10 of 100 are longer)'
}

/**
 * A class as a load test sends it: nobody gives up, comes back, is limited or goes on with a conversation. What prompts carry of one that
 * went before they carry here as well.
 *
 * @param requests of the service, of which sizes are taken where the class has no distribution of its own
 * @returns undefined where none of its requests came, so that it has no sizes
 */
export function testedClass(plan: Plan, { className, sent }: TestedLoad, service: Service, requests: Requests): RequestClass | undefined {
  const index = plan.classes.findIndex((c) => c.name === className && c.service === service.name)
  const { patienceSeconds: _, retries: __, rateLimit: ___, turns, ...asked } = plan.classes[index]
  const { input, output, work, items } = asked
  const prompt: Size | undefined = turns?.historyTokens === undefined ? input : { kind: 'log' } // as they came
  const sizes = {
    ...(input && prompt && { input: sizeOf(prompt, sent, requests.input, requests, index) }),
    ...(output && { output: sizeOf(output, sent, requests.output, requests, index) }),
    ...(work && { work: sizeOf(work, sent, requests.input, requests, index) }),
    ...(items && { items: sizeOf(items, sent, requests.output, requests, index) }),
  }
  const known = Object.entries(sizes).flatMap(([of, size]) => (size ? [[of, size]] : []))
  return known.length < Object.keys(sizes).length ? undefined : { ...asked, ...Object.fromEntries(known) }
}

function sizeOf(own: Size, sent: Sent, values: Int32Array, { count, classIndex }: Requests, index: number): Size | undefined {
  if (sent === 'as drawn' && own.kind !== 'log') return own
  const mine = Float64Array.from(values.filter((_, i) => i < count && classIndex[i] === index))
  if (sent !== 'as drawn') {
    const value = percentileOf(mine, SHARES[sent])
    return value === undefined ? undefined : { kind: 'fixed', value }
  }
  const every = Math.max(1, Math.ceil(mine.length / MOST_VALUES))
  return mine.length === 0 ? undefined : { kind: 'empirical', values: [...mine.filter((_, i) => i % every === 0)] }
}
