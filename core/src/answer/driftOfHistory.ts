import { ln } from '../arithmetic/sameBits.ts'
import { pouredInto, steps } from '../demand/metrics/increases.ts'
import type { Metric, Role, Roles } from '../files/metrics/roles.ts'
import type { Series } from '../files/metrics/series.ts'
import { BadInput } from '../plan/problem.ts'
import type { Plan, Service } from '../plan/schema.ts'
import { Load } from '../search/load.ts'
import { sum } from '../units/sum.ts'
import { arrivedOf, causesOf, HOUR, latencies, LEAST_REQUESTS, sinceOf, type Drift, type DriftPiece } from './driftParts.ts'

/** What a history counted in each of its hours, of one service. */
interface Hours {
  /** seconds since 1970, on a full hour */
  from: number
  /** requests that arrived */
  arrived: Float64Array
  /** requests that were answered, and the seconds that they took together */
  answered: Float64Array
  seconds: Float64Array
  /** mean tokens of a request; undefined where nothing counts them */
  input: number | undefined
  output: number | undefined
}

/**
 * What a metrics history counted, beside what the configuration that a plan states does with as many requests in the same hours: where the
 * mean time of a request drifts, since when, and which input explains it best. Requests come as the plan's classes do, in the shares that
 * these have of all.
 *
 * @param tolerance share, above 0
 * @returns undefined where what is stated can not be had, or no hour has requests enough
 * @throws BadInput where the history does not count requests, or not how long they took; for a class whose sizes are those of a log
 */
export function driftOfHistory(
  plan: Plan,
  service: Service,
  { metrics, roles }: { metrics: readonly Metric[]; roles: Roles },
  load: Load,
  tolerance: number,
): Drift | undefined {
  const hours = hoursOf(metrics, roles, service.name)
  const logged = plan.classes.find((c) => c.service === service.name && [c.input, c.output, c.work].some((size) => size?.kind === 'log'))
  if (logged)
    throw new BadInput(TITLE, [{ path: `classes, ${logged.name}`, rule: 'takes its sizes from a log: lay that log beside the plan' }])
  const real = realPlan(plan, service, hours, load)
  const requests = new Load(real).of(service, 0)
  const predicted = (of: Plan) => {
    const took = latencies(of, service.name, requests)
    return took && meansByHour(requests.at.subarray(0, requests.count), took, hours.arrived.length)
  }
  const now = predicted(real)
  if (!now) return undefined
  const pieces = piecesOf(hours, now)
  if (pieces.length === 0) return undefined
  const since = sinceOf(pieces, tolerance)
  const after = pieces.filter((p) => p.fromSeconds >= (since ?? 0))
  const all = sum(after, (p) => p.requests)
  const offBy = (means: Float64Array | undefined) =>
    means ? sum(after, (p) => p.requests * Math.abs(ln(p.tookSeconds / means[p.fromSeconds / HOUR]))) / all : Infinity
  const offNow = offBy(now)
  const drifts = since !== undefined || pieces.some((p) => Math.abs(p.ratio - 1) > tolerance)
  return {
    service: service.name,
    average: 'mean',
    requests: Math.round(sum(pieces, (p) => p.requests)),
    pieces,
    tolerance,
    sinceSeconds: since,
    ratio: sum(after, (p) => p.requests * p.tookSeconds) / sum(after, (p) => p.requests * p.predictedSeconds),
    offNow,
    causes: drifts ? causesOf(service, offNow, (other) => offBy(predicted(other(real)))) : [],
    arrived: { ...arrivedOf(requests, real, plan, service, load), ...sizeRatios(hours, service, load) },
  }
}

/** When a history begins, to the hour. */
export function historyStart(metrics: readonly Metric[], roles: Roles): number {
  const found = arrivalsOf(metrics, roles).flatMap((s) => [...s.at.subarray(0, 1)])
  return Math.floor(Math.min(...found) / HOUR) * HOUR
}

const TITLE = 'This history can not be laid beside the plan.'
const baseOf = (name: string) => name.replace(/_(bucket|sum|count)$/, '')

function arrivalsOf(metrics: readonly Metric[], roles: Roles): Series[] {
  return seriesOf(metrics, roles, 'arrivals').filter((s) => !/_(bucket|sum)$/.test(s.name))
}

/** Of a histogram or a summary all of its series; of a counter its own. */
function seriesOf(metrics: readonly Metric[], roles: Roles, role: Role): Series[] {
  const name = roles[role]
  if (name === undefined) return []
  const own = metrics.filter((m) => m.name === name)
  const parts = own.some((m) => m.kind === 'histogram') ? own : metrics.filter((m) => baseOf(m.name) === baseOf(name))
  return (parts.length > 0 ? parts : own).flatMap((m) => m.series).filter((s) => s.at.length > 1)
}

/** Those that a label says to be of this service; all of them where none says of which they are. */
function ofService(all: readonly Series[], name: string): readonly Series[] {
  const own = all.filter((s) => Object.values(s.labels).includes(name))
  return own.length > 0 ? own : all
}

function hoursOf(metrics: readonly Metric[], roles: Roles, name: string): Hours {
  const arrivals = ofService(arrivalsOf(metrics, roles), name)
  const latency = ofService(seriesOf(metrics, roles, 'latency'), name)
  const [sums, counts] = ['_sum', '_count'].map((end) => latency.filter((s) => s.name.endsWith(end)))
  if (arrivals.length === 0)
    throw new BadInput(TITLE, [{ path: 'arrivals', rule: 'must be one of its metrics: say which with --metrics arrivals=NAME' }])
  if (sums.length === 0 || counts.length === 0)
    throw new BadInput(TITLE, [
      {
        path: 'latency',
        rule: 'must be a histogram or a summary, whose sum and count say how long requests took: say which with --metrics latency=NAME',
      },
    ])
  const from = historyStart(metrics, roles)
  const until = Math.max(...arrivals.map((s) => s.at[s.at.length - 1]))
  const byHour = (of: readonly Series[]) => pouredInto(of.flatMap(steps), from, HOUR, Math.ceil((until - from) / HOUR))
  const arrived = byHour(arrivals)
  const count = total(arrived)
  const meanSize = (role: 'input' | 'output') => {
    const tokens = ofService(seriesOf(metrics, roles, role), name).filter((s) => !/_(bucket|count)$/.test(s.name))
    return tokens.length > 0 && count > 0 ? total(byHour(tokens)) / count : undefined
  }
  return { from, arrived, answered: byHour(counts), seconds: byHour(sums), input: meanSize('input'), output: meanSize('output') }
}

const total = (values: Float64Array): number => values.reduce((a, b) => a + b, 0)

/** The plan with as many requests in each hour as the history counted. What follows by itself, such as further turns, is part of them. */
function realPlan(plan: Plan, service: Service, { from, arrived }: Hours, load: Load): Plan {
  const expected = load.of(service, 0)
  const counts = plan.classes.map(() => 0)
  for (let i = 0; i < expected.count; i++) counts[expected.classIndex[i]]++
  const drawn = (scale: number): Plan => ({
    ...plan,
    horizon: { ...plan.horizon, start: new Date(from * 1000).toISOString(), seconds: arrived.length * HOUR, warmupSeconds: 0 },
    classes: plan.classes.map((c, k) =>
      c.service === service.name
        ? {
            ...c,
            arrivals: { kind: 'hourly', ratesPerSecond: Array.from(arrived, (n) => (scale * n * counts[k]) / (expected.count * HOUR)) },
          }
        : c,
    ),
  })
  const once = new Load(drawn(1)).of(service, 0).count
  return once === 0 ? drawn(1) : drawn(total(arrived) / once)
}

function meansByHour(at: Float64Array, took: Float64Array, hours: number): Float64Array {
  const [sums, counts] = [new Float64Array(hours), new Float64Array(hours)]
  took.forEach((t, i) => {
    if (Number.isNaN(t)) return
    const hour = Math.min(hours - 1, Math.floor(at[i] / HOUR))
    sums[hour] += t
    counts[hour]++
  })
  return sums.map((s, h) => s / counts[h])
}

function piecesOf({ answered, seconds }: Hours, predicted: Float64Array): DriftPiece[] {
  return Array.from(predicted, (p, h): DriftPiece => {
    const tookSeconds = seconds[h] / answered[h]
    return {
      fromSeconds: h * HOUR,
      untilSeconds: (h + 1) * HOUR,
      requests: answered[h],
      tookSeconds,
      predictedSeconds: p,
      ratio: tookSeconds / p,
    }
  }).filter((p) => p.requests >= LEAST_REQUESTS && p.ratio > 0 && Number.isFinite(p.ratio))
}

function sizeRatios({ input, output }: Hours, service: Service, load: Load): { input: number; output: number } {
  const expected = load.of(service, 0)
  const mean = (values: Int32Array) => values.subarray(0, expected.count).reduce((a, b) => a + b, 0) / Math.max(1, expected.count)
  const over = (found: number | undefined, of: number) => (found === undefined || !(of > 0) ? 1 : found / of)
  return { input: over(input, mean(expected.input)), output: over(output, mean(expected.output)) }
}
