import { rateCurve, simulate, type Requests } from '@sandclock/core'
import { poissonArrivals } from '../core/src/demand/arrivals.ts'
import { emptyRequests, pick } from '../core/src/demand/requests.ts'
import { drawSizes } from '../core/src/demand/sizes.ts'
import { RandomStream } from '../core/src/random/stream.ts'
import type { ServiceRules } from '../core/src/engine/rules.ts'
import { batchProfile, rules, sharedProfile, tokenProfile } from '../core/test/makeProfiles.ts'
import { plainWalk } from '../core/test/reference/plainWalk.ts'

/**
 * Speed of the engine on the reference work: a million requests, Poisson 20/s; prompts lognormal, median 600, σ 0.8; answers
 * median 180, σ 0.7; 48 sequences, 120,000 cache tokens. The same code runs in Node and in a worker of the browser.
 */
const RATE = 20
const Z95 = 1.6448536269514722
/** The plain walk is slow: it gets so many of the first requests. */
const WALKED = 2_000
const RUNS = 5

export function referenceWork(count: number): Requests {
  const at = poissonArrivals(rateCurve({ kind: 'steady', ratePerSecond: RATE }, count / RATE), new RandomStream(1, 'bench', 'arrivals'))
  const out = emptyRequests(at.length)
  out.at.set(at)
  out.input.set(
    drawSizes({ kind: 'lognormal', median: 600, p95: 600 * Math.exp(0.8 * Z95) }, at.length, new RandomStream(1, 'bench', 'input')),
  )
  out.output.set(
    drawSizes({ kind: 'lognormal', median: 180, p95: 180 * Math.exp(0.7 * Z95) }, at.length, new RandomStream(1, 'bench', 'output')),
  )
  return out
}

const TOKEN = { maxSequences: 48, cacheTokens: 120_000 }

/** Services by name; those of fixed work take the prompt as work and answer one item. */
const MODES: Record<string, Pick<ServiceRules, 'profile' | 'routing'>> = {
  'whole prompts': { profile: tokenProfile(TOKEN), routing: 'least-busy' },
  'whole prompts, shared queue': { profile: tokenProfile(TOKEN), routing: 'shared-queue' },
  'interleaved prompts': { profile: tokenProfile({ ...TOKEN, prompts: 'interleaved' }), routing: 'least-busy' },
  'optimistic cache': { profile: tokenProfile({ ...TOKEN, cacheTokens: 20_000, reservation: 'optimistic' }), routing: 'least-busy' },
  batches: { profile: batchProfile({ maxBatch: 16, baseSeconds: 0.05, secondsPerWorkUnit: 1e-5 }), routing: 'least-busy' },
  'side by side': { profile: sharedProfile({ baseSeconds: 0.05, secondsPerWorkUnit: 1e-4, slots: 16 }), routing: 'least-busy' },
}

export interface Speed {
  mode: string
  replicas: number
  perSecond: number
  ratio: number
}

export function measure(count: number): Speed[] {
  const tokens = referenceWork(count)
  const fixed = { ...tokens, output: new Int32Array(tokens.count) }
  return [6, 60].flatMap((replicas) =>
    Object.entries(MODES).map(([mode, parts]) => {
      const all = parts.profile.kind === 'token' ? tokens : fixed
      const some = pick(
        all,
        Int32Array.from({ length: WALKED }, (_, i) => i),
      )
      const ruleSet = rules(replicas, parts)
      perSecond(WALKED, () => simulate(some, ruleSet)) // warm the compiler
      const fast = Math.max(...Array.from({ length: RUNS }, () => perSecond(all.count, () => simulate(all, ruleSet))))
      return { mode, replicas, perSecond: fast, ratio: fast / perSecond(WALKED, () => plainWalk(some, ruleSet)) }
    }),
  )
}

function perSecond(count: number, work: () => unknown): number {
  const start = performance.now()
  work()
  return count / ((performance.now() - start) / 1000)
}

/** Bytes that a run holds for each request, its sizes and times (arrival, start, first token, end, prompt, answer) apart. */
export function bytesPerRequest(count: number): { all: number; beyond: number } {
  const SIZES_AND_TIMES = 8 + 8 + 8 + 8 + 4 + 4
  const requests = referenceWork(count)
  const record = simulate(requests, rules(6, MODES['whole prompts']))
  const arrays = new Set([...Object.values(requests), ...Object.values(record)].filter((v) => ArrayBuffer.isView(v)).map((v) => v.buffer))
  const LINES = 8 // previous and next of every request, held while the run goes
  const all = [...arrays].reduce((sum, b) => sum + b.byteLength, 0) / requests.count + LINES
  return { all, beyond: all - SIZES_AND_TIMES }
}

export function table(where: string, speeds: readonly Speed[]): string {
  const lines = speeds.map(
    ({ mode, replicas, perSecond: fast, ratio }) =>
      `${String(replicas).padStart(8)}  ${mode.padEnd(28)} ${(fast / 1e6).toFixed(2).padStart(6)} M/s  ${Math.round(ratio).toString().padStart(6)} ×`,
  )
  return [`${where}: million requests a second, and how many times as many as the plain walk`, 'replicas  service', ...lines].join('\n')
}
