import { oneReplicaAt } from '../candidate/stated.ts'
import type { Refusal } from '../search/refusal.ts'
import { configured, type Configured } from '../answer/configured.ts'
import { Load } from '../search/load.ts'
import { OUTCOME_NAMES } from '../engine/outcome.ts'
import type { Plan, RequestClass, Service, Size } from '../plan/schema.ts'
import { run } from '../run/run.ts'
import { FINDS, type OneAsked } from './asked.ts'

const MINE = 'this one'
const OTHERS = 'the others'
/** Far longer than any request takes; nothing happens in it but what was asked. */
const HORIZON_SECONDS = 30 * 86_400
/** Requests that each of the others sends, at the least: they outlast the one that is looked at. */
const ROUNDS = 12
/** The others have been there for so many of their own latencies when the one comes, at no special moment of theirs. */
const INTO_THEIRS = 2.37

/** When what happened to the one request, in seconds after it was called. */
export interface OneTimes {
  start: number
  firstToken: number
  end: number
}

/** When the one comes, over how long the others are spread, and how long its answer is. */
interface Moment {
  at: number
  ramp: number
  output: number
}

/** A plan of that one request and those beside it, to one replica that is stated: nothing in it is drawn. */
function planOfOne(plan: Plan, service: Service, asked: OneAsked, { at, ramp, output }: Moment): Plan {
  const isTokens = isOfTokens(plan, service)
  const loop = (clients: number, requestsPerClient: number, startSeconds: number, rampSeconds: number): RequestClass['arrivals'] => ({
    kind: 'closed-loop',
    clients,
    requestsPerClient,
    thinkSeconds: 0,
    startSeconds,
    rampSeconds,
  })
  const sizes = (tokens: number) => (isTokens ? { input: fixed(asked.input), output: fixed(tokens) } : { work: fixed(asked.input) })
  const mine: RequestClass = { name: MINE, service: service.name, arrivals: loop(1, 1, at, 0), ...sizes(output), targets: [] }
  const others: RequestClass = { ...mine, name: OTHERS, arrivals: loop(asked.others, ROUNDS, 0, ramp), ...sizes(asked.output) }
  return {
    ...plan,
    horizon: { ...plan.horizon, seconds: HORIZON_SECONDS, warmupSeconds: 0, begin: FINDS[asked.finds].begin },
    classes: asked.others > 0 ? [mine, others] : [mine],
    // How it is sold says nothing of what happens: where calls alone are, it is there as if it were rented.
    machines: plan.machines.map((m) => (m.name === asked.machine ? { ...m, availability: 1, pricePerHour: m.pricePerHour ?? 0 } : m)),
    services: [service],
  }
}

const fixed = (value: number): Size => ({ kind: 'fixed', value })

/** The service with one replica: none comes, goes or is lost, nobody is refused, and a machine comes in its median time. */
function serviceOfOne(plan: Plan, asked: OneAsked): Service {
  const service = plan.services.find((s) => s.name === asked.service)
  if (!service) throw new Error(`no service is called ${asked.service}`)
  const { policies: _, losses: __, start, limits, ...rest } = service
  const { queue: ___, ...kept } = limits ?? {}
  const { machineP95Seconds: ____, ...stages } = start ?? {}
  return {
    ...rest,
    limits: kept,
    ...(start && { start: stages as NonNullable<Service['start']> }), // but for the spread of machines
    configuration: oneReplicaAt(service, asked),
  }
}

/** Whether requests of a service are counted in tokens. */
export function isOfTokens(plan: Plan, { name }: Pick<Service, 'name'>): boolean {
  return plan.classes.some((c) => c.service === name && c.work === undefined)
}

/** What can be asked, ready to be run again and again. */
export interface OneReady {
  ok: true
  asked: OneAsked
  service: Service
  configured: Configured
  /** when what happened to the one, with an answer of so many tokens; the last of fewer comes when it comes in the whole answer too */
  times: (output: number) => OneTimes | { outcome: string }
}

/** One replica as it was asked for, or why there can be none. */
export function readyFor(plan: Plan, asked: OneAsked): OneReady | { ok: false; refusal: Refusal } {
  const service = serviceOfOne(plan, asked)
  const { configuration } = service
  if (!configuration) throw new Error('it was just stated')
  const there = configured(planOfOne(plan, service, asked, { at: 0, ramp: 0, output: asked.output }), service, configuration)
  if (!there.ok) return there
  const timesAt = (moment: Moment) => timesOf(planOfOne(plan, service, asked, moment), service, there, moment.at)
  // How long all take that come at once says how the others are spread, and when the one may come.
  const together = asked.others > 0 && asked.finds === 'warm' ? timesAt({ at: 0, ramp: 0, output: asked.output }) : undefined
  const among = together && 'end' in together ? together.end : 0
  const times = (output: number) => timesAt({ at: INTO_THEIRS * among, ramp: among, output })
  return { ok: true, asked, service, configured: there, times }
}

function timesOf(plan: Plan, service: Service, { spec }: Configured, at: number): OneTimes | { outcome: string } {
  const { record } = run(plan, spec, new Load(plan).of(service, 0), { toTheEnd: true })
  const i = record.requests.classIndex.indexOf(0)
  const outcome = OUTCOME_NAMES[record.outcome[i]]
  if (outcome !== 'finished') return { outcome }
  return { start: record.start[i] - at, firstToken: record.firstToken[i] - at, end: record.end[i] - at }
}
