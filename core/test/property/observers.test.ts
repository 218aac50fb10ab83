import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { LateSplit } from '../../src/engine/lateSplit.ts'
import { Meter } from '../../src/engine/meter.ts'
import { simulate } from '../../src/engine/simulate.ts'
import { finishedValues } from '../../src/measure/measures.ts'
import { RandomStream } from '../../src/random/stream.ts'
import { table } from '../../src/service/given.ts'
import type { Profile } from '../../src/service/profile.ts'
import { batchProfile, rules, sharedProfile, tokenProfile } from '../makeProfiles.ts'
import { makeRequests } from '../makeRequests.ts'

const HORIZON = 4000
const everything = { classIndex: -1, fromSeconds: 0, untilSeconds: Infinity }

const PROFILES: Record<string, Profile> = {
  whole: tokenProfile({ cacheTokens: 2000 }),
  interleaved: tokenProfile({ cacheTokens: 2000, prompts: 'interleaved', stepTokens: 64 }),
  optimistic: tokenProfile({ cacheTokens: 700, reservation: 'optimistic' }),
  'optimistic interleaved': tokenProfile({ cacheTokens: 700, reservation: 'optimistic', prompts: 'interleaved', stepTokens: 64 }),
  batch: batchProfile({ windowSeconds: 0.05, secondsPerWorkUnit: 1e-4 }),
  shared: sharedProfile({ secondsPerWorkUnit: 1e-3 }),
}

const setting = fc.record({
  seed: fc.nat(1e6),
  profile: fc.constantFrom(...Object.keys(PROFILES)),
  replicas: fc.integer({ min: 1, max: 3 }),
  startup: fc.constantFrom(0, 2),
  routing: fc.constantFrom('least-busy' as const, 'shared-queue' as const),
  gap: fc.constantFrom(0.03, 0.3),
})

function watched(s: {
  seed: number
  profile: string
  replicas: number
  startup: number
  routing: 'least-busy' | 'shared-queue'
  gap: number
}) {
  const random = new RandomStream(s.seed, 'observed')
  let at = 0
  const items = s.profile === 'batch' || s.profile === 'shared' ? 1 : 90
  const requests = makeRequests(
    Array.from({ length: 150 }, () => {
      at -= s.gap * Math.log(random.open())
      return [at, 1 + Math.floor(300 * random.next()), 1 + Math.floor(items * random.next())] as const
    }),
  )
  const late = new LateSplit(requests.count, [{ classIndex: 0, measure: 'latency', seconds: 0 }], 2, HORIZON, 500)
  const meter = new Meter(HORIZON, 400)
  const ruleSet = rules(s.replicas, {
    profile: PROFILES[s.profile],
    routing: s.routing,
    readyAtSeconds: new Float64Array(s.replicas).fill(s.startup),
    horizonSeconds: HORIZON,
  })
  return { late, meter, requests, record: simulate(requests, ruleSet, { late, meter }), plain: simulate(requests, ruleSet) }
}

const sum = (values: Float64Array) => values.reduce((a, b) => a + b, 0)

describe('those who look on', () => {
  it('change nothing; the parts of late time add up to the latencies, whatever the service', () => {
    fc.assert(
      fc.property(setting, (s) => {
        const { late, record, plain } = watched(s)
        expect(record.end).toEqual(plain.end)
        const all = late.between(0, HORIZON)
        expect(all.late).toBe(150)
        const latencies = sum(finishedValues(record, 'latency', everything))
        expect(all.startUpSeconds + all.queueSeconds + all.othersSeconds + all.ownSeconds).toBeCloseTo(latencies, 6)
        const waits = sum(finishedValues(record, 'wait', everything))
        expect(all.startUpSeconds + all.queueSeconds).toBeCloseTo(waits, 6)
        expect(Math.min(all.startUpSeconds, all.queueSeconds, all.othersSeconds)).toBeGreaterThan(-1e-6)
        expect(all.ownSeconds).toBeGreaterThan(0)
      }),
      { numRuns: 150, seed: 81 },
    )
  })

  it('windows of the horizon add up to the whole', () => {
    const { late } = watched({ seed: 5, profile: 'whole', replicas: 1, startup: 2, routing: 'least-busy', gap: 0.3 })
    const windows = [0, 8, 16, 200, HORIZON]
    const parts = windows.slice(1).map((until, i) => late.between(windows[i], until))
    const all = late.between(0, HORIZON)
    for (const field of ['late', 'startUpSeconds', 'queueSeconds', 'othersSeconds', 'ownSeconds'] as const) {
      expect(parts.reduce((total, p) => total + p[field], 0)).toBeCloseTo(all[field], 8)
    }
    expect(parts.filter((p) => p.late > 0).length).toBeGreaterThan(2)
    expect(late.between(0, HORIZON, 1).late).toBe(0)
  })

  it('what steps read is all their time where nothing else takes any, and so is what they reckon', () => {
    const nothing = { overheadSeconds: table(0, 8), prefillBaseSeconds: 0 }
    const reading = { ...nothing, arithmeticSeconds: table(0, 8), prefillSecondsPerToken: 0, prefillSecondsPerTokenSquared: 0 }
    const reckoning = { ...nothing, memorySeconds: table(0, 8), cacheSecondsPerToken: 0, prefillMemorySeconds: 0 }
    const modes = [{}, { reservation: 'optimistic' as const }].flatMap((m) => [
      m,
      { ...m, prompts: 'interleaved' as const, stepTokens: 64 },
    ])
    for (const mode of modes)
      for (const [parts, of, other] of [
        [reading, 'memorySeconds', 'arithmeticSeconds'],
        [reckoning, 'arithmeticSeconds', 'memorySeconds'],
      ] as const) {
        const random = new RandomStream(3, 'steps')
        let at = 0
        const requests = makeRequests(
          Array.from({ length: 120 }, () => {
            at -= 0.1 * Math.log(random.open())
            return [at, 1 + Math.floor(300 * random.next()), 1 + Math.floor(90 * random.next())] as const
          }),
        )
        const meter = new Meter(HORIZON, 400)
        const profile = tokenProfile({ cacheTokens: 900, maxSequences: 8, ...parts, ...mode })
        simulate(requests, rules(2, { profile, horizonSeconds: HORIZON }), { meter })
        meter.busySeconds.forEach((busy, i) => expect(meter[of][i]).toBeCloseTo(busy, 6))
        expect(sum(meter.busySeconds)).toBeGreaterThan(1)
        expect(sum(meter[other])).toBe(0)
      }
  })

  it('the meter adds up to the time in service, and never to more than there is', () => {
    fc.assert(
      fc.property(setting, (s) => {
        const { meter, record } = watched(s)
        const inService = sum(finishedValues(record, 'latency', everything)) - sum(finishedValues(record, 'wait', everything))
        if (s.profile === 'whole') expect(sum(meter.batchSeconds)).toBeLessThanOrEqual(inService + 1e-6)
        else if (!s.profile.startsWith('optimistic')) expect(sum(meter.batchSeconds)).toBeCloseTo(inService, 6)
        for (const busy of meter.busySeconds)
          if (busy > s.replicas * meter.pieceSeconds + 1e-9) throw new Error(`${busy} busy seconds in a piece`)
        const profile = PROFILES[s.profile]
        const most = profile.kind === 'token' ? profile.cacheTokens * s.replicas * meter.pieceSeconds : 0
        for (const tokens of meter.cacheTokenSeconds)
          if (tokens > most + 1e-6) throw new Error(`${tokens} token seconds in a piece, room for ${most}`)
      }),
      { numRuns: 150, seed: 82 },
    )
  })
})
