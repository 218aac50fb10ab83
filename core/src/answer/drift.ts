import { ln } from '../arithmetic/sameBits.ts'
import { replaceLoad } from '../demand/log/matchLog.ts'
import type { RequestLog } from '../demand/log/requestLog.ts'
import type { Requests } from '../demand/requests.ts'
import { percentileOf } from '../measure/percentile.ts'
import type { Plan, Service } from '../plan/schema.ts'
import { Load } from '../search/load.ts'
import { arrivedOf, causesOf, HOUR, latencies, LEAST_REQUESTS, sinceOf, type Drift, type DriftPiece } from './driftParts.ts'

const LEAST_HOURS = 6
const SHORT = 600

/**
 * The requests of a log that says how long each took, through the configuration that a plan states: where what happened drifts from what
 * is predicted, since when, and which input explains it best.
 *
 * @param service one that states a configuration
 * @param log with `happened`, as it was read
 * @param load of the plan with its own load, for how many were expected
 * @param tolerance share, above 0
 * @returns undefined where no request of the service can be compared
 * @throws BadInput for a log without a request of a class of the plan
 */
export function driftOf(plan: Plan, service: Service, log: RequestLog, load: Load, tolerance: number): Drift | undefined {
  const real = replaceLoad(plan, log)
  if (!real.plan.services.some((s) => s.name === service.name)) return undefined
  const requests = new Load(real.plan, real.log).of(service, 0)
  const span = real.plan.horizon.seconds
  const { happened } = log
  const took = Float64Array.from(requests.id.subarray(0, requests.count), (id) =>
    happened && !happened.failed[id] ? happened.seconds[id] : NaN,
  )
  const predicted = (of: Plan) => latencies(of, service.name, requests)
  const now = predicted(real.plan)
  if (!now) return undefined
  const ratios = ratiosOf(took, now)
  if (!ratios.some((r) => !Number.isNaN(r))) return undefined
  const pieces = piecesOf(requests, took, now, ratios, span)
  const since = sinceOf(pieces, tolerance)
  const after = (values: Float64Array) => values.filter((_, i) => requests.at[i] >= (since ?? 0))
  const offBy = (of: Float64Array | undefined) => (of && middle(after(ratiosOf(took, of)).map((r) => Math.abs(ln(r))))) ?? Infinity
  const offNow = offBy(now)
  const drifts = since !== undefined || pieces.some((p) => Math.abs(p.ratio - 1) > tolerance)
  return {
    service: service.name,
    average: 'middle',
    requests: ratios.filter((r) => !Number.isNaN(r)).length,
    pieces,
    tolerance,
    sinceSeconds: since,
    ratio: middle(after(ratios)) ?? NaN,
    offNow,
    causes: drifts ? causesOf(service, offNow, (other) => offBy(predicted(other(real.plan)))) : [],
    arrived: arrivedOf(requests, real.plan, plan, service, load),
  }
}

const ratiosOf = (took: Float64Array, predicted: Float64Array): Float64Array =>
  took.map((t, i) => (t > 0 && predicted[i] > 0 ? t / predicted[i] : NaN))
const middle = (values: Float64Array): number | undefined =>
  percentileOf(
    values.filter((v) => !Number.isNaN(v)),
    0.5,
  )

function piecesOf(requests: Requests, took: Float64Array, predicted: Float64Array, ratios: Float64Array, span: number): DriftPiece[] {
  const length = span >= LEAST_HOURS * HOUR ? HOUR : SHORT
  return Array.from({ length: Math.ceil(span / length) }, (_, k) => [k * length, Math.min(span, (k + 1) * length)]).flatMap(
    ([from, until]) => {
      const within = (values: Float64Array) =>
        values.filter((_, i) => requests.at[i] >= from && requests.at[i] < until && !Number.isNaN(ratios[i]))
      const own = within(ratios)
      if (own.length < LEAST_REQUESTS) return []
      return [
        {
          fromSeconds: from,
          untilSeconds: until,
          requests: own.length,
          tookSeconds: middle(within(took)) ?? NaN,
          predictedSeconds: middle(within(predicted)) ?? NaN,
          ratio: middle(own) ?? NaN,
        },
      ]
    },
  )
}
