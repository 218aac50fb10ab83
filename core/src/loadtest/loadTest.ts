import type { Requests } from '../demand/requests.ts'
import { isByCall } from '../cost/purchase.ts'
import type { RunRecord } from '../engine/record.ts'
import { finishedValues, type Measure } from '../measure/measures.ts'
import { mean, percentile } from '../measure/percentile.ts'
import type { Plan, RequestClass } from '../plan/schema.ts'
import { run } from '../run/run.ts'
import { partsOf, type RunSpec } from '../run/spec.ts'
import { Load } from '../search/load.ts'
import { hasTokens, slotsOf } from '../service/profile.ts'
import { testedClass, type Sent, type TestedLoad } from './testedLoad.ts'

/** Seconds that so many of 100 stay below. */
export interface Percentiles {
  mean: number
  p50: number
  p90: number
  p95: number
  p99: number
}

/** How a load test presses: so many callers at once, or so many new ones a second. */
export type Pressing = 'at once' | 'a second'

/** What callers see under one pressure. */
export interface LoadStep {
  /** callers at once, each of whom asks again as soon as it is answered; undefined where they come at a rate */
  clients?: number
  /** callers a second who come whatever happens, as chance has it (a Poisson process); undefined where so many are there at once */
  offeredPerSecond?: number
  /** that were counted */
  requests: number
  /** answered */
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
  sent: Sent
  pressing: Pressing
  replicas: number
  /** places of all replicas: callers beyond them wait */
  places: number
  /** the policy that was left out, so that so many replicas are there all the time; null for a number that was fixed anyway */
  withoutPolicy: string | null
  steps: LoadStep[]
  /** steps that there will be */
  of: number
}

/** Each caller asks at least so often, and all of them together. */
const LEAST_EACH = 40
const LEAST_TOGETHER = 400
/** Callers who come at a rate: those who find it filling are not counted; at least so many, and for so many times as long as one takes. */
const FILLING = { callers: 400, timesAlone: 4 }
const COUNTED = { callers: 1600, timesAlone: 12 }
/** And no more than these: far beyond what is borne nothing new is seen, and each is simulated. */
const MOST_CALLERS = 200_000
const LONGEST_SECONDS = 400 * 86_400
/** Shares of what it bears at the most, for rates that climb to that. */
const SHARES = [0.1, 0.25, 0.5, 0.6, 0.7, 0.8, 0.9, 0.95, 1, 1.1]

/**
 * A load test on paper, a step after the other. Nobody gives up, is turned away or limited, and neither a policy nor chance moves the
 * fleet: what is tested are its replicas. With callers at once everybody sends the next request the moment the last one is answered; at a
 * rate they come whatever happens.
 *
 * @param spec what is tested: of a policy, or of calls, one group of machines or one instance
 * @param pressures callers at once (1…), or a second (above 0), ascending; those that show where it bends if left out
 * @returns undefined where the class has no requests whose sizes could be sent
 */
export function* loadTest(
  plan: Plan,
  spec: RunSpec,
  load: Load,
  sent: TestedLoad,
  pressing: Pressing,
  pressures?: readonly number[],
): Generator<LoadTest, LoadTest | undefined> {
  const fixed = standing(spec)
  const requestClass = testedClass(plan, sent, spec.service, load.of(spec.service, 0))
  if (!requestClass) return undefined
  const { profile, replicas } = partsOf(fixed)
  const places = slotsOf(profile) * replicas
  const bench: Bench = { plan: emptied(plan, spec), spec: fixed, requestClass }
  const wanted = pressures ?? (pressing === 'at once' ? usualClients(places) : usualRates(atOnce(bench, 2 * places).requestsPerSecond))
  const test: LoadTest = {
    service: spec.service.name,
    className: sent.className,
    sent: sent.sent,
    pressing,
    replicas,
    places,
    withoutPolicy: spec.candidate.policy?.name ?? null,
    steps: [],
    of: wanted.length,
  }
  const aloneSeconds = pressing === 'at once' ? 0 : atOnce(bench, 1).latency.mean
  for (const pressure of wanted) {
    test.steps = [...test.steps, pressing === 'at once' ? atOnce(bench, pressure) : aSecond(bench, pressure, aloneSeconds)]
    yield { ...test }
  }
  return test
}

/** Powers of two up to beyond the places, and the places themselves. */
export function usualClients(places: number): number[] {
  const powers: number[] = []
  for (let n = 1; n <= 4 * places; n *= 2) powers.push(n)
  return [...new Set([...powers, places, 2 * places])].sort((a, b) => a - b)
}

const usualRates = (most: number): number[] => SHARES.map((s) => s * most)

/** The same replicas, there from the beginning to the end. */
function standing({ candidate, groups }: RunSpec): RunSpec {
  const { policy, purchase } = candidate
  const { start: _, nodes: __, losses: ___, limits, ...rest } = candidate.service
  const { queue: ____, ...others } = limits ?? {}
  const service = { ...rest, limits: others }
  const moves = policy !== null || isByCall(purchase)
  return {
    service,
    groups: moves ? 1 : groups,
    candidate: { ...candidate, service, policy: null, elastic: false, paysByRun: false, ...(moves && { unusedReplicas: 0 }) },
  }
}

/** What stays the same from step to step. */
interface Bench {
  plan: Plan
  spec: RunSpec
  requestClass: RequestClass
}

/** The plan with nothing but what is tested. */
const emptied = (plan: Plan, { service }: RunSpec): Plan => ({
  ...plan,
  horizon: { start: plan.horizon.start, seconds: LONGEST_SECONDS, warmupSeconds: 0 },
  classes: [],
  services: [service],
})

/** Runs what arrives; it goes on until all are answered. @param seconds in which callers come */
function tested({ plan, spec, requestClass }: Bench, arrivals: RequestClass['arrivals'], seconds: number): RunRecord {
  const classes = [{ ...requestClass, arrivals }]
  const coming = { ...plan, horizon: { ...plan.horizon, seconds }, classes }
  const requests: Requests = new Load(coming).of(spec.service, 0)
  return run({ ...plan, classes, services: [spec.service] }, spec, requests, { toTheEnd: true }).record
}

function atOnce(bench: Bench, clients: number): LoadStep {
  const requestsPerClient = Math.max(LEAST_EACH, Math.ceil(LEAST_TOGETHER / clients))
  const record = tested(bench, { kind: 'closed-loop', clients, requestsPerClient, thinkSeconds: 0 }, LONGEST_SECONDS)
  return { clients, ...stepOf(bench, record, everybodyThere(record, clients)) }
}

function aSecond(bench: Bench, offeredPerSecond: number, aloneSeconds: number): LoadStep {
  const lasting = ({ callers, timesAlone }: typeof FILLING) =>
    Math.min(Math.max(callers / offeredPerSecond, timesAlone * aloneSeconds), MOST_CALLERS / offeredPerSecond)
  const from = lasting(FILLING)
  const until = from + lasting(COUNTED)
  const record = tested(bench, { kind: 'steady', ratePerSecond: offeredPerSecond }, until)
  // Beyond what it bears more come than are answered: only those who are count for what it does.
  return { offeredPerSecond, ...stepOf(bench, record, [from, until], record.end) }
}

/** What those who come in a time see, and how many there are of them. @param by when requests count for how many there are */
function stepOf({ spec }: Bench, record: RunRecord, [from, until]: [number, number], by = record.at): LoadStep {
  const selection = { classIndex: -1, fromSeconds: from, untilSeconds: until }
  const of = (measure: Measure) => finishedValues(record, measure, selection)
  const [latencies, waits, first] = [of('latency'), of('wait'), of('ttft')]
  const inTokens = hasTokens(partsOf(spec).profile)
  const done = doneBetween(record, by, from, until)
  return {
    requests: latencies.length,
    requestsPerSecond: done.requests / (until - from),
    ...(inTokens && { answerTokensPerSecond: done.tokens / (until - from), ttft: percentiles(first) }),
    latency: percentiles(latencies),
    waitShare: (mean(waits) ?? 0) / (mean(latencies) ?? 1),
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

function doneBetween({ requests }: RunRecord, times: Float64Array, from: number, until: number): { requests: number; tokens: number } {
  const done = { requests: 0, tokens: 0 }
  for (let i = 0; i < times.length; i++) {
    if (!(times[i] >= from && times[i] < until)) continue
    done.requests++
    done.tokens += requests.output[i]
  }
  return done
}

function percentiles(sorted: Float64Array): Percentiles {
  const at = (share: number) => percentile(sorted, share) ?? NaN
  return { mean: mean(sorted) ?? NaN, p50: at(0.5), p90: at(0.9), p95: at(0.95), p99: at(0.99) }
}
