import type { RequestClass, Target } from './schema.ts'

type TimeMeasure = Extract<Target, { percentile: number }>['measure']

/** What the way between caller and service takes of one request of a class, in seconds. */
export interface WaySeconds {
  /** until the service has the request */
  there: number
  /** until the caller has a token, and the whole answer once it is there */
  tokenBack: number
  wholeBack: number
}

const NO_WAY: WaySeconds = { there: 0, tokenBack: 0, wholeBack: 0 }

/** @example waySeconds({ way: { seconds: 0.04, bytesPerSecond: 1e6, requestBytes: 5e5 } }) // there 0.54, back 0.04 */
export function waySeconds({ way }: Pick<RequestClass, 'way'>): WaySeconds {
  if (!way) return NO_WAY
  const { seconds, bytesPerSecond = Infinity, requestBytes = 0, answerBytes = 0 } = way
  return { there: seconds + requestBytes / bytesPerSecond, tokenBack: seconds, wholeBack: seconds + answerBytes / bytesPerSecond }
}

/** What of a measure at the caller is the way: waiting and the gaps between tokens have none of it. */
export function wayIn({ there, tokenBack, wholeBack }: WaySeconds, measure: TimeMeasure): number {
  if (measure === 'ttft') return there + tokenBack
  return measure === 'latency' ? there + wholeBack : 0
}

/** What the way takes of the time that a class is promised; 0 of a promise that is kept at the service. */
export function wayPromised(requestClass: Pick<RequestClass, 'way'>, target: Target): number {
  if (target.measure === 'lost' || target.measure === 'throughput' || target.at === 'service') return 0
  return wayIn(waySeconds(requestClass), target.measure)
}
