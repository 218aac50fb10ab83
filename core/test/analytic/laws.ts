import { poissonArrivals } from '../../src/demand/arrivals.ts'
import { rateCurve } from '../../src/demand/rate.ts'
import { emptyRequests, type Requests } from '../../src/demand/requests.ts'
import { drawSizes, type DrawnSize } from '../../src/demand/sizes.ts'
import { Outcome } from '../../src/engine/outcome.ts'
import type { RunRecord } from '../../src/engine/record.ts'
import { simulate } from '../../src/engine/simulate.ts'
import type { ServiceRules } from '../../src/engine/rules.ts'
import { valuesAsTheyCame, type Measure } from '../../src/measure/measures.ts'
import { mean, percentileOf } from '../../src/measure/percentile.ts'
import { RandomStream } from '../../src/random/stream.ts'
import { table } from '../../src/service/given.ts'
import { batchProfile, classRules, rules, sharedProfile, tokenProfile } from '../makeProfiles.ts'
import { erlangC, finiteQueue, impatientShare, lateBulkWait, repairThroughput } from './closedForms.ts'

/** A closed form with a setting of the engine that reduces to it. Times in seconds; service times carried in microseconds. */
export interface Law {
  law: string
  parameters: string
  quantity: string
  exact: number
  /** one independent reading of it */
  simulate: (seed: number) => number
}

const SECONDS = 60_000
const WARMUP = 2_000
const MICRO = 1e6

const exponential = (mean: number): DrawnSize => ({ kind: 'exponential', mean: mean * MICRO })
const fixed = (seconds: number): DrawnSize => ({ kind: 'fixed', value: seconds * MICRO })

/** Poisson arrivals with service times of the given distribution, carried by prompt lengths or work. */
function load(seed: number, ratePerSecond: number, service: DrawnSize, seconds: number): Requests {
  const at = poissonArrivals(rateCurve({ kind: 'steady', ratePerSecond }, seconds), new RandomStream(seed, 'queue', 'arrivals'))
  const out = emptyRequests(at.length)
  out.at.set(at)
  out.input.set(drawSizes(service, at.length, new RandomStream(seed, 'queue', 'service')))
  out.output.fill(1)
  return out
}

/** A token replica that takes one prompt at a time, a microsecond a token: a single server. */
const tokenServer = tokenProfile({
  maxSequences: 1,
  cacheTokens: 2e9,
  requestTokens: 2e9,
  prefillBaseSeconds: 0,
  prefillMemorySeconds: 0,
  maxPrefillTokens: 2e9,
  prefillSecondsPerToken: 1 / MICRO,
  prefillSecondsPerTokenSquared: 0,
  memorySeconds: table(0, 1),
  arithmeticSeconds: table(0, 1),
  overheadSeconds: table(0, 1),
})
/** The same through chunks of 50 ms, which are leapt over. */
const chunkServer = { ...tokenServer, prompts: 'interleaved' as const, stepTokens: 50_000 }
/** The same as a fixed-work replica without batching. */
const workServer = batchProfile({ maxBatch: 1, baseSeconds: 0, secondsPerWorkUnit: 1 / MICRO })
/** One processor for whoever is there. */
const sharingServer = sharedProfile({ baseSeconds: 0, secondsPerWorkUnit: 1 / MICRO, slowdown: 1, slots: 4000 })
const SERVERS = { 'whole prompts': tokenServer, 'chunked prompts': chunkServer, 'fixed work': workServer }

const counted = { classIndex: 0, fromSeconds: WARMUP, untilSeconds: Infinity }
const reading = (record: RunRecord, measure: Measure, of: (values: Float64Array) => number | undefined, classIndex = 0) =>
  of(valuesAsTheyCame(record, measure, { ...counted, classIndex })) ?? NaN

function share(record: RunRecord, outcome: number): number {
  let hit = 0
  let all = 0
  for (let i = 0; i < record.requests.count; i++) {
    if (record.requests.at[i] < WARMUP) continue
    all++
    if (record.outcome[i] === outcome) hit++
  }
  return hit / all
}

interface Queue {
  rate: number
  service: DrawnSize
  rules: ServiceRules
  seconds?: number
}

const run = (seed: number, { rate, service, rules: ruleSet, seconds = SECONDS }: Queue) =>
  simulate(load(seed, rate, service, seconds), { ...ruleSet, horizonSeconds: 2 * seconds })
const meanOf = (queue: Queue, measure: Measure) => (seed: number) => reading(run(seed, queue), measure, mean)

/** Laws that are read off the same runs: a run is made once, whichever of them asks first. */
function sameRuns(laws: readonly Omit<Law, 'simulate'>[], readAll: (seed: number) => number[]): Law[] {
  const known = new Map<number, number[]>()
  const readings = (seed: number) => {
    const before = known.get(seed) ?? readAll(seed)
    known.set(seed, before)
    return before
  }
  return laws.map((law, i) => ({ ...law, simulate: (seed: number) => readings(seed)[i] }))
}

type ServerName = keyof typeof SERVERS

function mm1(server: ServerName, rho: number): Law[] {
  const queue = { rate: rho, service: exponential(1), rules: rules(1, { profile: SERVERS[server] }) }
  const parameters = `${server}, load ${rho}`
  const laws = [
    { law: 'M/M/1', parameters, quantity: 'mean wait, s', exact: rho / (1 - rho) },
    { law: 'M/M/1', parameters, quantity: '95th percentile of latency, s', exact: -Math.log(0.05) / (1 - rho) },
  ]
  return sameRuns(laws, (seed) => {
    const record = run(seed, queue)
    return [reading(record, 'wait', mean), reading(record, 'latency', (v) => percentileOf(v, 0.95))]
  })
}

function mmc(server: ServerName, c: number, rho: number): Law {
  const queue = {
    rate: c * rho,
    service: exponential(1),
    rules: rules(c, { profile: SERVERS[server], routing: 'shared-queue' }),
    seconds: SECONDS / 5,
  }
  return {
    law: 'M/M/c',
    parameters: `${server}, c = ${c}, load ${rho}`,
    quantity: 'mean wait, s',
    exact: erlangC(c, c * rho) / (c - c * rho),
    simulate: meanOf(queue, 'wait'),
  }
}

/** Mean wait by Pollaczek and Khinchine: λ·E[S²] / (2(1 − ρ)). */
function mg1(law: string, server: ServerName, rate: number, service: DrawnSize, first: number, second: number, words: string): Law {
  return {
    law,
    parameters: `${server}, ${words}, load ${Number((rate * first).toFixed(3))}`,
    quantity: 'mean wait, s',
    exact: (rate * second) / (2 * (1 - rate * first)),
    simulate: meanOf({ rate, service, rules: rules(1, { profile: SERVERS[server] }) }, 'wait'),
  }
}

function mmck(c: number, k: number, rho: number): Law[] {
  const exact = finiteQueue(c, k, c * rho)
  const queue = {
    rate: c * rho,
    service: exponential(1),
    rules: rules(c, { profile: workServer, routing: 'shared-queue', queueLimit: k - c }),
    seconds: SECONDS / 6,
  }
  const parameters = `fixed work, c = ${c}, K = ${k}, load ${rho}`
  const laws = [
    { law: 'M/M/c/K', parameters, quantity: 'share refused', exact: exact.refused },
    { law: 'M/M/c/K', parameters, quantity: 'mean wait, s', exact: exact.wait },
  ]
  return sameRuns(laws, (seed) => {
    const record = run(seed, queue)
    return [share(record, Outcome.rejected), reading(record, 'wait', mean)]
  })
}

function sharing(rho: number, service: DrawnSize, words: string): Law {
  const queue = { rate: rho, service, rules: rules(1, { profile: sharingServer }) }
  return {
    law: 'Processor sharing',
    parameters: `side by side, ${words}, load ${rho}`,
    quantity: 'mean latency, s',
    exact: 1 / (1 - rho),
    simulate: meanOf(queue, 'latency'),
  }
}

function bulk(b: number, rho: number): Law {
  const rate = b * rho
  const queue = {
    rate,
    service: { kind: 'fixed' as const, value: 1 },
    rules: rules(1, { profile: batchProfile({ maxBatch: b, baseSeconds: 1, secondsPerWorkUnit: 0 }) }),
    seconds: SECONDS / b,
  }
  return {
    law: 'M/D/1 in bulk',
    parameters: `batches of 1…${b}, load ${rho}`,
    quantity: 'mean wait, s',
    exact: lateBulkWait(rate, 1, b),
    simulate: meanOf(queue, 'wait'),
  }
}

/** Two classes without pre-emption (Cobham): W₁ = R/(1 − ρ₁), W₂ = R/((1 − ρ₁)(1 − ρ)), R = ρ for exponential service of mean 1. */
function priorities(first: number, second: number): Law[] {
  const rho = first + second
  const ruleSet = rules(1, { profile: workServer, classes: [classRules({ priority: 1 }), classRules()], horizonSeconds: 2 * SECONDS })
  const parameters = `fixed work, loads ${first} and ${second}`
  const laws = [
    { law: 'M/M/1 with priority', parameters, quantity: 'mean wait of the first, s', exact: rho / (1 - first) },
    { law: 'M/M/1 with priority', parameters, quantity: 'mean wait of the second, s', exact: rho / (1 - first) / (1 - rho) },
  ]
  return sameRuns(laws, (seed) => {
    const requests = load(seed, rho, exponential(1), SECONDS)
    const random = new RandomStream(seed, 'queue', 'class')
    for (let i = 0; i < requests.count; i++) requests.classIndex[i] = random.next() < first / rho ? 0 : 1
    const record = simulate(requests, ruleSet)
    return [reading(record, 'wait', mean), reading(record, 'wait', mean, 1)]
  })
}

function patience(rho: number, seconds: number): Law {
  const queue = { rate: rho, service: exponential(1), rules: rules(1, { profile: workServer, patienceSeconds: [seconds] }) }
  return {
    law: 'M/M/1 with patience',
    parameters: `fixed work, load ${rho}, ${seconds} s`,
    quantity: 'share that gives up',
    exact: impatientShare(rho, seconds),
    simulate: (seed) => share(run(seed, queue), Outcome.abandoned),
  }
}

/** A closed loop of exponential thought: the machine-repair model. */
function closedLoop(clients: number, thinkSeconds: number): Law {
  const each = 3000
  const ruleSet = rules(1, { profile: workServer, horizonSeconds: 20_000 })
  const simulateOne = (seed: number) => {
    const n = clients * each
    const think = new RandomStream(seed, 'loop', 'thinking')
    const requests = emptyRequests(n)
    requests.output.fill(1)
    requests.input.set(drawSizes(exponential(1), n, new RandomStream(seed, 'loop', 'service')))
    const chain = {
      next: Int32Array.from({ length: n }, (_, i) => (i + clients < n ? i + clients : -1)),
      pause: Float64Array.from({ length: n }, (_, i) => (i < clients ? NaN : -thinkSeconds * Math.log(think.open()))),
    }
    const record = simulate({ ...requests, chain }, ruleSet)
    let finished = 0
    for (let i = 0; i < n; i++) if (record.end[i] > WARMUP && record.end[i] <= 20_000) finished++
    return finished / (20_000 - WARMUP)
  }
  return {
    law: 'Closed loop (machine repair)',
    parameters: `fixed work, ${clients} clients, ${thinkSeconds} s of thought`,
    quantity: 'finished per second',
    exact: repairThroughput(clients, 1 / thinkSeconds),
    simulate: simulateOne,
  }
}

const MIXED = [0.2, 0.2, 0.2, 3.4]
const sigma = 0.8

export const LAWS: readonly Law[] = [
  ...mm1('whole prompts', 0.5),
  ...mm1('chunked prompts', 0.8),
  ...mm1('fixed work', 0.8),
  mmc('whole prompts', 3, 0.8),
  mmc('chunked prompts', 4, 0.7),
  mmc('fixed work', 6, 0.85),
  mg1('M/D/1', 'whole prompts', 0.7, fixed(1), 1, 1, 'constant'),
  mg1('M/D/1', 'fixed work', 0.9, fixed(1), 1, 1, 'constant'),
  mg1(
    'M/G/1',
    'whole prompts',
    0.7,
    { kind: 'empirical', values: MIXED.map((s) => s * MICRO) },
    1,
    MIXED.reduce((sum, s) => sum + (s * s) / 4, 0),
    'short or long',
  ),
  mg1(
    'M/G/1',
    'fixed work',
    0.6,
    { kind: 'lognormal', median: MICRO, p95: MICRO * Math.exp(sigma * 1.6448536269514722) },
    Math.exp(sigma ** 2 / 2),
    Math.exp(2 * sigma ** 2),
    `lognormal, σ ${sigma}`,
  ),
  ...mmck(1, 5, 0.9),
  ...mmck(4, 9, 1.2),
  sharing(0.7, exponential(1), 'exponential'),
  sharing(0.7, { kind: 'empirical', values: MIXED.map((s) => s * MICRO) }, 'short or long'),
  bulk(4, 0.6),
  bulk(8, 0.85),
  ...priorities(0.3, 0.5),
  patience(0.9, 3),
  closedLoop(6, 4),
]

/** What the engine says of a law: mean over independent seeds and the half width of its 99 % interval. */
export interface LawReading {
  value: number
  half: number
  seeds: number
}

export const SEEDS = 60
/** One reading in a hundred lies outside its interval though the law holds: such a one is taken anew, from so many other seeds. */
const MORE_SEEDS = 240
/** Two-sided 99 % points of Student's t for 59 and 239 degrees of freedom. */
const T99: Record<number, number> = { [SEEDS]: 2.662, [MORE_SEEDS]: 2.596 }

/** Reads a law over 60 seeds; if that is outside, over 240 others, which then decide. */
export function readLaw(law: Law): LawReading {
  const first = over(law, 0, SEEDS)
  return agrees(law, first) ? first : over(law, SEEDS, MORE_SEEDS)
}

export function agrees(law: Law, { value, half }: LawReading): boolean {
  return Math.abs(value - law.exact) <= half
}

function over(law: Law, from: number, seeds: number): LawReading {
  const values = Array.from({ length: seeds }, (_, i) => law.simulate(from + i))
  const value = values.reduce((a, b) => a + b, 0) / seeds
  const variance = values.reduce((sum, v) => sum + (v - value) ** 2, 0) / (seeds - 1)
  return { value, half: (T99[seeds] * Math.sqrt(variance)) / Math.sqrt(seeds), seeds }
}
