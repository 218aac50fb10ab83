import { simulate } from '../src/engine/simulate.ts'
import { finishedValues } from '../src/measure/measures.ts'
import type { MeasurementRow } from '../src/plan/schema.ts'
import { RandomStream } from '../src/random/stream.ts'
import type { TokenProfile } from '../src/service/profile.ts'
import { rules } from './makeProfiles.ts'
import { makeRequests } from './makeRequests.ts'

const mean = (values: Float64Array) => values.reduce((a, b) => a + b, 0) / values.length

/**
 * A load test of one replica as people do it, by the engine: `concurrency` clients send `each` requests one after the
 * other, of sizes ±20 % around the stated ones; the row holds the means that a tool would print.
 */
export function loadTest(
  profile: TokenProfile,
  concurrency: number,
  input: number,
  output: number,
  each: number,
  seed = 1,
): MeasurementRow {
  const random = new RandomStream(seed, 'load test', `${concurrency} ${input} ${output}`)
  const size = (about: number) => Math.max(1, Math.round(about * (0.8 + 0.4 * random.next())))
  const count = concurrency * each
  const requests = makeRequests(
    Array.from({ length: count }, (_, i) => [i < concurrency ? i * 0.37 : 0, size(input), size(output)] as const),
  )
  const next = Int32Array.from({ length: count }, (_, i) => (i + concurrency < count ? i + concurrency : -1))
  const pause = Float64Array.from({ length: count }, (_, i) => (i < concurrency ? NaN : 0))
  const record = simulate({ ...requests, chain: { next, pause } }, rules(1, { profile, horizonSeconds: 1e7 }))
  const all = { classIndex: -1, fromSeconds: 0, untilSeconds: Infinity }
  const tokens = (sizes: Int32Array) => Math.round(sizes.reduce((a, b) => a + b, 0) / count)
  return {
    concurrency,
    count,
    input: tokens(requests.input),
    output: tokens(requests.output),
    ttftSeconds: mean(finishedValues(record, 'ttft', all)),
    tpotSeconds: mean(finishedValues(record, 'tpot', all)),
    latencySeconds: mean(finishedValues(record, 'latency', all)),
  }
}
