import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { OUTCOME_NAMES, RejectCause } from '../../src/engine/outcome.ts'
import { simulate } from '../../src/engine/simulate.ts'
import { table } from '../../src/service/given.ts'
import { rules, tokenProfile } from '../makeProfiles.ts'
import { makeRequests } from '../makeRequests.ts'
import { compare, RUNS, withScript, type Comparison } from './randomRuns.ts'

const MICROSECOND = 1e-6

/** @returns what the plain walk found, and how many attempts were lost in it */
function expectSame(run: Comparison): { plain: ReturnType<typeof compare>['plain']; lost: number } {
  const { fast, plain, difference, worst } = compare(run)
  if (!(difference <= MICROSECOND)) {
    const f = {
      at: fast.at[worst],
      start: fast.start[worst],
      firstToken: fast.firstToken[worst],
      end: fast.end[worst],
      outcome: OUTCOME_NAMES[fast.outcome[worst]],
      replica: fast.replica[worst],
    }
    expect(f, `request ${worst} arriving at ${run.requests.at[worst]}`).toEqual(plain.requests[worst])
  }
  expect(fast.evictions).toBe(plain.evictions)
  const classes = run.rules.classes.length
  const causes = Object.fromEntries(
    Object.keys(plain.lostAttempts).map((cause) => {
      const row = RejectCause[cause as keyof typeof plain.lostAttempts] * classes
      return [cause, fast.lostAttempts.slice(row, row + classes).reduce((a, b) => a + b, 0)]
    }),
  )
  expect(causes).toEqual(plain.lostAttempts)
  return { plain, lost: Object.values(plain.lostAttempts).reduce((a, b) => a + b, 0) }
}

describe('the engine that leaps and a plain walk over every step agree on every request to 1 µs', () => {
  it.each([
    ['whole prompts', 900, 500],
    ['interleaved prompts', 900, 500],
    ['batches', 700, 0],
    ['side by side', 500, 0],
    ['sold by tokens', 500, 0],
  ] as const)('%s, %d random runs over logs, limits, routings and classes', (kind, numRuns, evictions) => {
    const seen = { evictions: 0, lost: 0 }
    fc.assert(
      fc.property<[Comparison]>(RUNS[kind], (run) => {
        const { plain, lost } = expectSame(run)
        seen.evictions += plain.evictions
        seen.lost += lost
      }),
      { numRuns, seed: 20_270_301 },
    )
    expect(seen.evictions, 'evictions in all runs').toBeGreaterThanOrEqual(evictions)
    expect(seen.lost, 'attempts turned away or given up').toBeGreaterThan(4000)
  })

  it.each(Object.keys(RUNS) as (keyof typeof RUNS)[])('%s, with replicas that come, drain, are lost and come again', (kind) => {
    const seen = { replicaLost: 0, failed: 0, drained: 0 }
    fc.assert(
      fc.property<[Comparison, number]>(RUNS[kind], fc.nat(1e6), (run, seed) => {
        const scripted = withScript(run, seed)
        const { plain } = expectSame(scripted)
        seen.replicaLost += plain.lostAttempts.replicaLost
        seen.failed += plain.requests.filter((r) => r.outcome === 'failed').length
        seen.drained += scripted.script?.filter((e) => e.what === 'drain').length ?? 0
      }),
      { numRuns: 800, seed: 20_270_302 },
    )
    expect(seen.replicaLost).toBeGreaterThan(400)
    expect(seen.failed).toBeGreaterThan(150)
    expect(seen.drained).toBeGreaterThan(1000)
  })

  it('also when arrivals fall exactly on step boundaries, which rounding must not decide', () => {
    const profile = tokenProfile({
      maxSequences: 6,
      cacheSecondsPerToken: 0,
      arithmeticSeconds: table(0, 6),
      memorySeconds: table(0.02, 6),
      overheadSeconds: table(0, 6),
      prefillBaseSeconds: 0.1,
      prefillMemorySeconds: 0,
      prefillSecondsPerToken: 0,
      prefillSecondsPerTokenSquared: 0,
    })
    const requests = makeRequests(Array.from({ length: 60 }, (_, i) => [1 + i * 0.1, 10, 3 + (i % 40)] as const))
    for (const routing of ['least-busy', 'shared-queue', 'round-robin', 'two-choice'] as const)
      expectSame({ requests, rules: rules(3, { profile, routing }) })
    expectSame({ requests, rules: rules(3, { profile: { ...profile, prompts: 'interleaved', stepTokens: 4 } }) })
    const run = simulate(requests, rules(1, { profile }))
    // The first request decodes from 1.1 s in steps of 20 ms; the second arrives at 1.1 s, at that very boundary.
    expect(run.start[1]).toBeCloseTo(1.1, 9)
  })
})
