import { poissonArrivals } from '../../src/demand/arrivals.ts'
import { rateCurve } from '../../src/demand/rate.ts'
import { emptyRequests } from '../../src/demand/requests.ts'
import { drawSizes } from '../../src/demand/sizes.ts'
import { simulate } from '../../src/engine/simulate.ts'
import { interval95 } from '../../src/measure/interval.ts'
import { finishedValues } from '../../src/measure/measures.ts'
import { percentile } from '../../src/measure/percentile.ts'
import { RandomStream } from '../../src/random/stream.ts'
import { batchProfile, rules } from '../makeProfiles.ts'

export const INTERVALS = 1000
export const RUNS = 5
const LOAD = 0.6
const SECONDS = 6000
const WARMUP_SECONDS = 300

/**
 * How often the interval that the product shows for a percentile covers the true one: many studies of a few independent
 * runs each, on M/M/1, where the percentile of latency is −ln(1 − q)/(1 − ρ).
 *
 * @param width shrinks the intervals, to see that too narrow ones are found out
 * @returns the share of intervals that cover it
 */
export function coverage(q: number, width = 1): number {
  const exact = -Math.log(1 - q) / (1 - LOAD)
  let covered = 0
  for (let study = 0; study < INTERVALS; study++) {
    const interval = interval95(Array.from({ length: RUNS }, (_, run) => latency(study * RUNS + run, q)))
    if (interval && Math.abs(exact - interval.mean) <= width * (interval.high - interval.mean)) covered++
  }
  return covered / INTERVALS
}

const known = new Map<number, Float64Array>()

function latency(seed: number, q: number): number {
  const sorted = known.get(seed) ?? oneRun(seed)
  known.set(seed, sorted)
  return percentile(sorted, q) ?? NaN
}

function oneRun(seed: number): Float64Array {
  const at = poissonArrivals(rateCurve({ kind: 'steady', ratePerSecond: LOAD }, SECONDS), new RandomStream(seed, 'coverage', 'arrivals'))
  const requests = emptyRequests(at.length)
  requests.at.set(at)
  requests.input.set(drawSizes({ kind: 'exponential', mean: 1e6 }, at.length, new RandomStream(seed, 'coverage', 'service')))
  const record = simulate(
    requests,
    rules(1, { profile: batchProfile({ maxBatch: 1, baseSeconds: 0, secondsPerWorkUnit: 1e-6 }), horizonSeconds: 2 * SECONDS }),
  )
  return finishedValues(record, 'latency', { classIndex: 0, fromSeconds: WARMUP_SECONDS, untilSeconds: SECONDS })
}
