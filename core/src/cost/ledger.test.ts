import { describe, expect, it } from 'vitest'
import { livingFleet, scripted } from '../../test/fleets.ts'
import { batchProfile, rules, tokenProfile } from '../../test/makeProfiles.ts'
import { makeRequests } from '../../test/makeRequests.ts'
import { Meter } from '../engine/meter.ts'
import { simulate } from '../engine/simulate.ts'
import { RandomStream } from '../random/stream.ts'
import { fixedLedger, livingLedger } from './ledger.ts'

const one = batchProfile({ maxBatch: 1, baseSeconds: 1, secondsPerWorkUnit: 0 })
const parts = (l: ReturnType<typeof fixedLedger>) => l.serving + l.idle + l.starting + l.leaving + l.rounding

describe('the ledger', () => {
  it('of a fixed fleet, by hand: 2 machines for 1000 s, 100 s of start-up, 30 requests of a second', () => {
    const meter = new Meter(1000, 10)
    const requests = makeRequests(Array.from({ length: 30 }, (_, i) => [200 + 10 * i, 1, 1] as const))
    requests.output.fill(0)
    simulate(requests, rules(2, { profile: one, horizonSeconds: 1000, readyAtSeconds: Float64Array.of(100, 100) }), { meter })
    const ledger = fixedLedger(meter, 2, 100, { pricePerHour: 36, replicasPerGroup: 1, total: 20 })
    expect(ledger).toEqual({ starting: 2, leaving: 0, rounding: 0, serving: expect.closeTo(0.3, 9) as number, idle: expect.closeTo(17.7, 9) as number, total: 20 })
  })

  it('of a fleet that comes and goes, by hand: ordered at 0, ready at 150, one request of a second, sent home at 600, given back at 660', () => {
    const fleet = livingFleet({ controller: scripted([[0, 1], [600, 0]]) })
    const meter = new Meter(1000, 10)
    const requests = makeRequests([[300, 1, 1]])
    requests.output.fill(0)
    simulate(requests, rules(1, { profile: one, horizonSeconds: 1000, life: () => fleet }), { meter })
    const ledger = livingLedger(meter, fleet.record, { pricePerHour: 3600, replicasPerGroup: 1, total: 720 }) // billed by two minutes
    expect([ledger.starting, ledger.serving, ledger.idle, ledger.leaving, ledger.rounding].map((x) => Number(x.toFixed(6)))).toEqual([150, 1, 449, 60, 60])
  })

  it('adds up, and no part is below 0, over random fleets with losses and several replicas a machine', () => {
    for (let seed = 0; seed < 60; seed++) {
      const random = new RandomStream(seed, 'ledger')
      const replicasPerNode = 1 + Math.floor(3 * random.next())
      const fleet = livingFleet({
        scaling: { min: 1, max: 6, metrics: [{ metric: 'in-flight', target: 2, windowSeconds: 30, baseShare: 0, sharePerRequest: 0 }] }, seed, losses: { replicaMeanSeconds: random.next() < 0.5 ? Infinity : 300, nodeMeanSeconds: random.next() < 0.5 ? Infinity : 500 }, start: { nodeSeconds: 30 * random.next() }, nodes: { replicasPerNode },
      })
      let at = 0
      const requests = makeRequests(Array.from({ length: 300 }, () => [(at -= 3 * Math.log(random.open())), 50, 1 + Math.floor(60 * random.next())] as const))
      const meter = new Meter(1500, 30)
      simulate(requests, rules(1, { profile: tokenProfile(), horizonSeconds: 1500, life: () => fleet }), { meter })
      const total = fleet.record.nodes.reduce((sum, n) => sum + n.until - n.from, 0)
      const ledger = livingLedger(meter, fleet.record, { pricePerHour: 3600, replicasPerGroup: replicasPerNode, total })
      expect(parts(ledger)).toBeCloseTo(total, 6)
      for (const [name, amount] of Object.entries(ledger)) if (amount < -1e-6) throw new Error(`${name} of run ${seed} is ${amount}`)
      expect(ledger.serving).toBeGreaterThan(0)
    }
  })
})
