import { withCosts } from '../world/worldParts.ts'
import type { Requests } from '../demand/requests.ts'
import { Outcome } from '../engine/outcome.ts'
import type { Plan, Service } from '../plan/schema.ts'
import { run } from '../run/run.ts'
import type { Load } from '../search/load.ts'
import { configured } from './configured.ts'

/** A stretch of what happened, beside what was predicted of the same requests. */
export interface DriftPiece {
  fromSeconds: number
  untilSeconds: number
  requests: number
  /** middle or mean times, seconds */
  tookSeconds: number
  predictedSeconds: number
  /** how many times as long each request took as predicted, in the middle of all */
  ratio: number
}

/** An input that may be otherwise than the plan says, and how much of what drifts it leaves. */
export interface DriftCause {
  cause: { kind: 'step costs'; factor: number } | { kind: 'fewer replicas'; missing: number }
  /** middle size of what is left, as a share */
  left: number
}

/** Of what arrives, as the log has it over as the plan says it: 1 where they agree. */
export interface ArrivedRatios {
  requests: number
  input: number
  output: number
}

/** A running service beside what its plan says of it. */
export interface Drift {
  service: string
  /** whether times are those of the middle request, or means: a history knows no others */
  average: 'middle' | 'mean'
  requests: number
  pieces: DriftPiece[]
  /** beyond this share a piece drifts */
  tolerance: number
  /** from where on it drifts; undefined where it does not, or but here and there */
  sinceSeconds: number | undefined
  /** of those after that, or of all */
  ratio: number
  /** middle size of how far requests are off as it is */
  offNow: number
  /** what explains it, the best first; nothing where nothing drifts */
  causes: DriftCause[]
  arrived: ArrivedRatios
}

/** Requests that a stretch must have to be told. */
export const LEAST_REQUESTS = 20
export const HOUR = 3600
/** So many of the pieces after the begin of a drift must show it. */
const STEADY = 0.8
const FACTORS = [0.5, 0.6, 0.7, 0.8, 0.9, 1.1, 1.2, 1.3, 1.4, 1.5, 1.6, 1.8, 2, 2.5, 3]
const MOST_MISSING = 4
/** What leaves more than this of a drift does not explain it. */
const EXPLAINS = 0.7

/** Inputs that may be otherwise, those that explain a drift, the best first. */
export function causesOf(service: Service, offNow: number, leftBy: (other: (plan: Plan) => Plan) => number): DriftCause[] {
  const steps = FACTORS.map((factor): DriftCause => ({ cause: { kind: 'step costs', factor }, left: leftBy((p) => costlier(p, factor)) }))
  const fewer = missingOf(service).map((missing): DriftCause => ({
    cause: { kind: 'fewer replicas', missing },
    left: leftBy((p) => withFewer(p, service.name, missing)),
  }))
  return [...steps, ...fewer].filter((c) => c.left < EXPLAINS * offNow).sort((a, b) => a.left - b.left)
}

/** The plan with every step so many times as long. */
const costlier = (plan: Plan, factor: number): Plan =>
  withCosts(plan, {
    machine: () => ({ bandwidth: factor, arithmetic: factor }),
    launch: factor,
    place: () => factor,
    own: () => factor,
    sold: () => factor,
  })

/** Replicas that may be missing of a fixed number. */
function missingOf({ configuration }: Service): number[] {
  if (!configuration || configuration.policy !== undefined) return []
  return Array.from({ length: Math.min(MOST_MISSING, configuration.replicas - 1) }, (_, i) => i + 1)
}
const withFewer = (plan: Plan, name: string, missing: number): Plan => ({
  ...plan,
  services: plan.services.map((s) =>
    s.name === name && s.configuration ? { ...s, configuration: { ...s.configuration, replicas: s.configuration.replicas - missing } } : s,
  ),
})

/** Seconds of each request, NaN for those that do not finish; undefined where what is stated can not be had. */
export function latencies(plan: Plan, name: string, requests: Requests): Float64Array | undefined {
  const service = plan.services.find((s) => s.name === name)
  const ready = service?.configuration && configured(plan, service, service.configuration)
  if (!ready?.ok) return undefined
  const { record } = run(plan, ready.spec, requests, { toTheEnd: true })
  return Float64Array.from({ length: requests.count }, (_, i) =>
    record.outcome[i] === Outcome.finished ? record.end[i] - requests.at[i] : NaN,
  )
}

/** The first piece from which on nearly all drift to one side, the last among them. */
export function sinceOf(pieces: readonly DriftPiece[], tolerance: number): number | undefined {
  const side = (p: DriftPiece) => (Math.abs(p.ratio - 1) > tolerance ? Math.sign(p.ratio - 1) : 0)
  const last = pieces.at(-1)
  if (!last || side(last) === 0) return undefined
  const like = (p: DriftPiece) => side(p) === side(last)
  const first = pieces.findIndex((p, k) => like(p) && pieces.slice(k).filter(like).length >= STEADY * (pieces.length - k))
  return first < 0 ? undefined : pieces[first].fromSeconds
}

const [DAY, WEEK] = [86_400, 7 * 86_400]

/** What came over what the plan's own load has in the same hours of its week or day, as far as it has a whole one. */
export function arrivedOf(requests: Requests, real: Plan, plan: Plan, service: Service, load: Load): ArrivedRatios {
  const expected = load.of(service, 0)
  const { seconds } = plan.horizon
  const span = real.horizon.seconds
  const period = seconds >= WEEK ? WEEK : seconds >= DAY ? DAY : seconds
  const offset = seconds >= DAY ? (Date.parse(real.horizon.start) - Date.parse(plan.horizon.start)) / 1000 : 0
  const whole = Math.floor(seconds / period) * period
  const within = (t: number) => t < whole && (((t - offset) % period) + period) % period < span
  const due = expected.at.subarray(0, expected.count).filter(within).length / (whole / period)
  const mean = (values: Int32Array, count: number) => values.subarray(0, count).reduce((a, b) => a + b, 0) / Math.max(1, count)
  const over = (a: number, b: number) => (b > 0 ? a / b : 1)
  return {
    requests: over(requests.count, due * Math.max(1, span / period)),
    input: over(mean(requests.input, requests.count), mean(expected.input, expected.count)),
    output: over(mean(requests.output, requests.count), mean(expected.output, expected.count)),
  }
}
