import { finishedValues } from '../measure/measures.ts'
import { percentile } from '../measure/percentile.ts'
import { BadInput, shown } from '../plan/problem.ts'
import type { Plan, RequestClass } from '../plan/schema.ts'
import { run } from '../run/run.ts'
import { Load } from '../search/load.ts'
import { FINDS, type OneAsked } from './asked.ts'
import { isOfTokens, readyFor } from './oneRun.ts'

/** Requests of one size that come as chance has it, for some time. */
export interface SmallLoad {
  /** on average; above 0 */
  perHour: number
  /** how long they come */
  seconds: number
}

/** What came of it on one replica. */
export interface SmallLoadSeen {
  requests: number
  /** until the last is answered, and no less than they come */
  untilSeconds: number
  /** from the call to the whole answer, start-up and way included; undefined where nobody came */
  p50Seconds: number | undefined
  p95Seconds: number | undefined
}

/** More is no small load: a plan with a search is for that. */
const MOST_REQUESTS = 200_000
const DRAIN_SECONDS = 30 * 86_400

/**
 * A small load on the one replica that is asked for, by a Poisson process drawn with the seed of the plan.
 *
 * @throws BadInput for a load that is none, or a large one
 */
export function smallLoad(plan: Plan, asked: OneAsked, load: SmallLoad): SmallLoadSeen {
  const { perHour, seconds } = load
  const wrong = (path: string, found: number, rule: string) =>
    new BadInput('This session can not be laid out.', [{ path, found: shown(found), rule }])
  if (!(perHour > 0)) throw wrong('rate', perHour, 'must be above 0 requests an hour')
  if (!(seconds > 0 && seconds <= DRAIN_SECONDS)) throw wrong('lasts', seconds, 'must be a time up to 30 days')
  if ((perHour * seconds) / 3600 > MOST_REQUESTS)
    throw wrong(
      'rate',
      perHour,
      `must be lower: in this time some ${Math.round((perHour * seconds) / 3600)} come, and a session has at most ${MOST_REQUESTS}; begin a plan for more`,
    )
  const ready = readyFor(plan, asked)
  if (!ready.ok) throw new Error('a request was laid out there')
  const sizes = isOfTokens(plan, ready.service)
    ? { input: { kind: 'fixed', value: asked.input }, output: { kind: 'fixed', value: asked.output } }
    : { work: { kind: 'fixed', value: asked.input } }
  const its: RequestClass = {
    name: 'some',
    service: ready.service.name,
    arrivals: { kind: 'steady', ratePerSecond: perHour / 3600 },
    ...(sizes as Pick<RequestClass, 'input' | 'output' | 'work'>),
    targets: [],
  }
  const coming: Plan = {
    ...plan,
    horizon: { start: plan.horizon.start, seconds, warmupSeconds: 0, begin: FINDS[asked.finds].begin },
    classes: [its],
    services: [ready.service],
  }
  const requests = new Load(coming).of(ready.service, 0)
  const { record } = run({ ...coming, horizon: { ...coming.horizon, seconds: DRAIN_SECONDS } }, ready.configured.spec, requests, {
    toTheEnd: true,
  })
  const whole = finishedValues(record, 'latency', { classIndex: -1, fromSeconds: 0, untilSeconds: Infinity })
  const way = asked.way ? asked.way.there + asked.way.wholeBack : 0
  const within = (share: number) => {
    const value = percentile(whole, share)
    return value === undefined ? undefined : value + way
  }
  return {
    requests: requests.count,
    untilSeconds: record.end.reduce((last, end) => (end > last ? end : last), seconds),
    p50Seconds: within(0.5),
    p95Seconds: within(0.95),
  }
}
