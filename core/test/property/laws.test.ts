import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { poissonArrivals } from '../../src/demand/arrivals.ts'
import { rateCurve } from '../../src/demand/rate.ts'
import { emptyRequests } from '../../src/demand/requests.ts'
import { drawSizes } from '../../src/demand/sizes.ts'
import { came } from '../../src/engine/record.ts'
import { MissWatch } from '../../src/engine/missWatch.ts'
import { simulate } from '../../src/engine/simulate.ts'
import { countOutcomes } from '../../src/measure/counts.ts'
import { allowedMisses, holds, readTarget } from '../../src/measure/targets.ts'
import type { Target } from '../../src/plan/schema.ts'
import { RandomStream } from '../../src/random/stream.ts'
import { batchProfile, rules, tokenProfile } from '../makeProfiles.ts'
import { RUNS, type Comparison } from './randomRuns.ts'
import { idleWhileWaiting, serviceArea, systemArea } from './runLaws.ts'

const KINDS = Object.keys(RUNS) as (keyof typeof RUNS)[]

const everything = { classIndex: -1, fromSeconds: 0, untilSeconds: Infinity }

function randomLoad(seed: number, rate: number, seconds: number) {
  const at = poissonArrivals(rateCurve({ kind: 'steady', ratePerSecond: rate }, seconds), new RandomStream(seed, 'laws'))
  const out = emptyRequests(at.length)
  out.at.set(at)
  out.input.set(drawSizes({ kind: 'lognormal', median: 200, p95: 900 }, at.length, new RandomStream(seed, 'in')))
  out.output.set(drawSizes({ kind: 'lognormal', median: 40, p95: 150 }, at.length, new RandomStream(seed, 'out')))
  return out
}

const setting = fc.record({
  seed: fc.nat(1e6),
  rate: fc.constantFrom(0.5, 4, 20),
  replicas: fc.integer({ min: 1, max: 4 }),
  batch: fc.boolean(),
  routing: fc.constantFrom('least-busy' as const, 'shared-queue' as const),
  queueLimit: fc.constantFrom(Infinity, 5),
  patience: fc.constantFrom(Infinity, 3),
})
type Setting = typeof setting extends fc.Arbitrary<infer T> ? T : never

function run(s: Setting, watch?: MissWatch) {
  const requests = randomLoad(s.seed, s.rate, 60)
  if (s.batch) requests.output.fill(0)
  const profile = s.batch ? batchProfile({ secondsPerWorkUnit: 2e-4 }) : tokenProfile({ cacheTokens: 4000, requestTokens: 4000 })
  return simulate(
    requests,
    rules(s.replicas, { profile, routing: s.routing, queueLimit: s.queueLimit, patienceSeconds: [s.patience], horizonSeconds: 60 }),
    watch ? { watch } : {},
  )
}

describe('laws that hold for every load, profile and routing', () => {
  it('every request ends in exactly one way', () => {
    fc.assert(
      fc.property(setting, (s) => {
        const record = run(s)
        const c = countOutcomes(record, everything)
        expect(c.finished + c.rejected + c.abandoned + c.failed + c.unfinished).toBe(record.requests.count)
        for (let i = 0; i < record.requests.count; i++) {
          if (record.outcome[i] !== 1) continue
          const inOrder =
            record.requests.at[i] <= record.start[i] && record.start[i] <= record.firstToken[i] && record.firstToken[i] <= record.end[i]
          if (!inOrder) throw new Error(`request ${i} has its times out of order`)
        }
      }),
      { numRuns: 120, seed: 11 },
    )
  })

  it.each(KINDS)(
    "Little's law over random runs of %s: areas under the number in the system and in service are the times spent there",
    (kind) => {
      let inService = 0
      fc.assert(
        fc.property<[Comparison]>(RUNS[kind], (run) => {
          const system = systemArea(run)
          expect(system.left).toBeCloseTo(system.right, 1 + Math.min(3, Math.floor(4 - Math.log10(1 + system.right))))
          const service = serviceArea(run)
          if (!service) return
          inService++
          expect(service.left).toBeCloseTo(service.right, 6)
        }),
        { numRuns: 200, seed: 12 },
      )
      if (kind !== 'whole prompts') expect(inService).toBeGreaterThan(60)
    },
  )

  it.each(KINDS)('work conservation over random runs of %s: nobody waits in front of an idle replica', (kind) => {
    let waits = 0
    fc.assert(
      fc.property<[Comparison]>(RUNS[kind], (run) => {
        const idle = idleWhileWaiting(run)
        waits += idle.waits
        expect(idle.seconds).toBeLessThan(1e-6)
      }),
      { numRuns: 200, seed: 16 },
    )
    expect(waits).toBeGreaterThan(500)
  })

  it('the same input gives the same times, bit for bit', () => {
    fc.assert(
      fc.property(setting, (s) => {
        expect(run(s).end).toEqual(run(s).end)
      }),
      { numRuns: 20, seed: 13 },
    )
  })

  it('a watch never changes a verdict, and allows as many misses as the percentile does', () => {
    const targets = fc.constantFrom<Target>(
      { measure: 'ttft', percentile: 95, seconds: 0.3 },
      { measure: 'latency', percentile: 90, seconds: 1 },
      { measure: 'tpot', percentile: 99, seconds: 0.016 },
      { measure: 'wait', percentile: 50, seconds: 0.01 },
      { measure: 'lost', share: 0.02 },
    )
    const seen = { kept: 0, broken: 0, stopped: 0 }
    fc.assert(
      fc.property(setting, targets, (s, target) => {
        const full = run(s)
        const reading = readTarget(full, { target, overdueSeconds: Infinity }, everything, 0.1)
        const verdict = holds(reading, target, 0.1)
        const seconds = target.measure === 'lost' || target.measure === 'throughput' ? 0 : target.seconds * 0.9
        const watch = new MissWatch(
          [
            {
              classIndex: 0,
              measure: target.measure as 'ttft',
              seconds,
              pieceSeconds: Infinity,
              allowedMisses: [allowedMisses(target, full.requests.count) ?? 0],
            },
          ],
          1,
          0,
        ) // throughput is not among the targets above
        const watched = run(s, watch)
        seen[verdict ? 'kept' : 'broken']++
        if (watched.stopped) seen.stopped++
        if (watched.stopped) expect(verdict).toBe(false)
      }),
      { numRuns: 200, seed: 14 },
    )
    expect(Math.min(seen.kept, seen.broken, seen.stopped)).toBeGreaterThan(20)
  })

  it.each(KINDS)('conservation, causes and order of times over random runs of %s', (kind) => {
    fc.assert(
      fc.property<[Comparison]>(RUNS[kind], ({ requests, rules: ruleSet }) => {
        const record = simulate(requests, ruleSet)
        const c = countOutcomes(record, everything)
        let here = 0
        for (let i = 0; i < requests.count; i++) if (came(record, i)) here++
        expect(c.finished + c.rejected + c.abandoned + c.failed + c.unfinished).toBe(here)
        expect(c.tooLarge + c.queueFull + c.rateLimited).toBe(c.rejected)
        const lost = record.lostAttempts.reduce((a, b) => a + b, 0)
        // Every attempt that was lost was followed by another or was the last one; a retry may still be to come.
        expect(lost).toBe(c.retries + c.rejected + c.abandoned)
        for (let i = 0; i < requests.count; i++) {
          if (record.outcome[i] !== 1) continue
          const inOrder =
            record.at[i] <= record.start[i] &&
            record.start[i] <= record.firstToken[i] &&
            record.firstToken[i] <= record.end[i] &&
            record.end[i] <= ruleSet.horizonSeconds
          if (!inOrder) throw new Error(`request ${i} has its times out of order`)
        }
      }),
      { numRuns: 300, seed: 15 },
    )
  })
})
