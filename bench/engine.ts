import { emptyRequests, pick, rateCurve, simulate, type Requests } from '@sandclock/core'
import { poissonArrivals } from '../core/src/demand/arrivals.ts'
import { drawSizes } from '../core/src/demand/sizes.ts'
import { RandomStream } from '../core/src/random/stream.ts'
import { rules, tokenProfile } from '../core/test/makeProfiles.ts'
import { plainWalk } from '../core/test/reference/plainWalk.ts'

/**
 * Speed of the engine on the reference work: a million requests, Poisson 20/s; prompts lognormal, median 600, σ 0.8; answers
 * median 180, σ 0.7; 48 sequences, 120,000 cache tokens. Prints requests per second and the ratio to the plain walk, both from
 * this run: machines differ, ratios hardly do.
 */
const COUNT = 1_000_000
const WALKED = 4_000
const RATE = 20
const Z95 = 1.6448536269514722

function referenceWork(): Requests {
  const at = poissonArrivals(rateCurve({ kind: 'steady', ratePerSecond: RATE }, COUNT / RATE), new RandomStream(1, 'bench', 'arrivals'))
  const out = emptyRequests(at.length)
  out.at.set(at)
  out.input.set(drawSizes({ kind: 'lognormal', median: 600, p95: 600 * Math.exp(0.8 * Z95) }, at.length, new RandomStream(1, 'bench', 'input')))
  out.output.set(drawSizes({ kind: 'lognormal', median: 180, p95: 180 * Math.exp(0.7 * Z95) }, at.length, new RandomStream(1, 'bench', 'output')))
  return out
}

function perSecond(count: number, work: () => unknown): number {
  const start = performance.now()
  work()
  return count / ((performance.now() - start) / 1000)
}

const all = referenceWork()
const some = pick(all, Int32Array.from({ length: WALKED }, (_, i) => i))
const profile = tokenProfile({ maxSequences: 48, cacheTokens: 120_000 })
const words = (n: number) => Math.round(n).toLocaleString('en').padStart(12)

console.log('replicas  routing        engine /s   plain walk /s   ratio')
for (const replicas of [6, 60]) {
  for (const routing of ['least-busy', 'shared-queue'] as const) {
    const ruleSet = rules(replicas, { profile, routing })
    perSecond(WALKED, () => simulate(some, ruleSet)) // warm the compiler
    const fast = Math.max(...[1, 2, 3].map(() => perSecond(all.count, () => simulate(all, ruleSet))))
    const slow = perSecond(WALKED, () => plainWalk(some, ruleSet))
    console.log(`${String(replicas).padStart(8)}  ${routing.padEnd(12)} ${words(fast)}    ${words(slow)}  ${(fast / slow).toFixed(0).padStart(6)}`)
  }
}
