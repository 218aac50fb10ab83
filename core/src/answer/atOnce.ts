import { run } from '../run/run.ts'
import { partsOf } from '../run/spec.ts'
import { slotsOf } from '../service/profile.ts'
import { finishedValues, type Measure } from '../measure/measures.ts'
import { mean, percentile } from '../measure/percentile.ts'
import type { RunRecord } from '../engine/record.ts'
import type { Configuration, Plan, RequestClass, Service } from '../plan/schema.ts'
import { Load } from '../search/load.ts'
import type { Refusal } from '../search/refusal.ts'
import { configured, type Configured } from './configured.ts'

/** Seconds that so many of 100 stay below. */
export interface Percentiles {
  mean: number
  p50: number
  p90: number
  p95: number
  p99: number
}

/** What so many callers at once see, each of whom asks again as soon as it is answered. */
export interface AtOnce {
  clients: number
  /** that were counted: those that come while everybody is there, from each one's second on */
  requests: number
  requestsPerSecond: number
  /** undefined for a service without tokens */
  answerTokensPerSecond?: number
  ttft?: Percentiles
  latency: Percentiles
  /** share of the latency that is waiting for a place */
  waitShare: number
}

/** A load test on paper of one class. */
export interface LoadTest {
  service: string
  className: string
  replicas: number
  /** places of all replicas: callers beyond them wait */
  places: number
  /** the policy that was left out, so that so many replicas are there all the time; null for a number that was fixed anyway */
  withoutPolicy: string | null
  steps: AtOnce[]
}

/** Each caller asks at least so often, and all of them together. */
const LEAST_EACH = 40
const LEAST_TOGETHER = 400
const LONGEST_SECONDS = 400 * 86_400

/**
 * Simulates c callers at once against a stated configuration, as a load test would: everybody sends the next request the moment the last
 * one is answered. Nobody gives up, is turned away or limited, and no policy moves the fleet: what is tested are its replicas.
 *
 * @param clients numbers of callers, ascending, each 1…
 */
export function loadTest(
  plan: Plan,
  service: Service,
  configuration: Configuration,
  requestClass: RequestClass,
  clients: readonly number[],
): LoadTest | { refusal: Refusal } {
  const { policy, ...fixed } = configuration
  const ready = configured(plan, service, fixed)
  if (!ready.ok) return { refusal: ready.refusal }
  const { profile } = partsOf(ready.spec)
  return {
    service: service.name,
    className: requestClass.name,
    replicas: fixed.replicas,
    places: slotsOf(profile) * fixed.replicas,
    withoutPolicy: policy ?? null,
    steps: clients.map((c) => atOnce(plan, service, ready, requestClass, c)),
  }
}

function atOnce(plan: Plan, service: Service, { spec }: Configured, requestClass: RequestClass, clients: number): AtOnce {
  const tested = closedLoop(plan, service, requestClass, clients)
  const { record } = run(tested, { ...spec, service: tested.services[0] }, new Load(tested).of(tested.services[0], 0), {
    repetition: 0,
    toTheEnd: true,
  })
  const [from, until] = everybodyThere(record, clients)
  const selection = { classIndex: -1, fromSeconds: from, untilSeconds: until }
  const of = (measure: Measure) => finishedValues(record, measure, selection)
  const [latencies, waits, first] = [of('latency'), of('wait'), of('ttft')]
  const hasTokens = partsOf(spec).profile.kind === 'token'
  const rate = latencies.length / (until - from)
  return {
    clients,
    requests: latencies.length,
    requestsPerSecond: rate,
    ...(hasTokens && { answerTokensPerSecond: tokensOf(record, from, until) / (until - from), ttft: percentiles(first) }),
    latency: percentiles(latencies),
    waitShare: (mean(waits) ?? 0) / (mean(latencies) ?? 1),
  }
}

/** The plan with this class alone, asked by so many callers without a pause. */
function closedLoop(plan: Plan, service: Service, requestClass: RequestClass, clients: number): Plan {
  const { patienceSeconds: _, retries: __, rateLimit: ___, turns: ____, ...asked } = requestClass
  const { queue: _____, ...limits } = service.limits ?? {}
  const requestsPerClient = Math.max(LEAST_EACH, Math.ceil(LEAST_TOGETHER / clients))
  return {
    ...plan,
    horizon: { start: plan.horizon.start, seconds: LONGEST_SECONDS, warmupSeconds: 0 },
    classes: [{ ...asked, arrivals: { kind: 'closed-loop', clients, requestsPerClient, thinkSeconds: 0 } }],
    services: [{ ...service, limits }],
  }
}

/** From when everybody has been answered about once until the first has asked for the last time. */
function everybodyThere({ at, end }: RunRecord, clients: number): [number, number] {
  const [ats, ends] = [Float64Array.from(at).sort(), Float64Array.from(end).sort()]
  // After n answers there have been as many calls and those of everybody at once, until somebody is done.
  let n = clients
  while (clients + n - 1 < ats.length && ats[clients + n - 1] <= ends[n - 1]) n++
  return [ends[clients - 1], ends[n - 1]]
}

function tokensOf({ at, requests }: RunRecord, from: number, until: number): number {
  let tokens = 0
  for (let i = 0; i < at.length; i++) if (at[i] >= from && at[i] < until) tokens += requests.output[i]
  return tokens
}

function percentiles(sorted: Float64Array): Percentiles {
  const at = (share: number) => percentile(sorted, share) ?? NaN
  return { mean: mean(sorted) ?? NaN, p50: at(0.5), p90: at(0.9), p95: at(0.95), p99: at(0.99) }
}
