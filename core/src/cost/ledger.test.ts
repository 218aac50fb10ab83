import { describe, expect, it } from 'vitest'
import { bought, livingFleet, scripted } from '../../test/fleets.ts'
import { batchProfile, rules, tokenProfile } from '../../test/makeProfiles.ts'
import { makeRequests } from '../../test/makeRequests.ts'
import { Meter } from '../engine/meter.ts'
import { simulate } from '../engine/simulate.ts'
import { RandomStream } from '../random/stream.ts'
import { billOf } from './bill.ts'
import { classShares, fixedLedger, LEDGER_PARTS, livingLedger, paidSeries } from './ledger.ts'

const one = batchProfile({ maxBatch: 1, baseSeconds: 1, secondsPerWorkUnit: 0 })

describe('the ledger', () => {
  it('of a fixed fleet, by hand: 2 machines for 1000 s, 100 s of start-up, 30 requests of a second', () => {
    const meter = new Meter(1000, 10)
    const requests = makeRequests(Array.from({ length: 30 }, (_, i) => [200 + 10 * i, 1, 1] as const))
    requests.output.fill(0)
    simulate(requests, rules(2, { profile: one, horizonSeconds: 1000, readyAtSeconds: Float64Array.of(100, 100) }), { meter })
    const ledger = fixedLedger(meter, bought('on-demand', { onDemandPerHour: 36, storagePerHour: 3.6 }), {
      groups: 2,
      replicasPerGroup: 1,
      startupSeconds: 100,
    })
    const { pieces, ...whole } = ledger
    const close = (x: number) => expect.closeTo(x, 9) as number
    expect(whole).toEqual({
      starting: close(2),
      leaving: 0,
      rounding: 0,
      unused: 0,
      transfer: 0,
      serving: close(0.3),
      idle: close(17.7),
      storage: close(2),
      total: close(22),
      pieceSeconds: 100,
    })
    expect([pieces[0].starting, pieces[2].serving, pieces[2].idle]).toEqual([close(2), close(0.1), close(1.9)])
  })

  it('of a fleet that comes and goes, by hand: ordered at 0, ready at 150, one request of a second, sent home at 600, given back at 660', () => {
    const fleet = livingFleet({
      controller: scripted([
        [0, 1],
        [600, 0],
      ]),
    })
    const meter = new Meter(1000, 10)
    const requests = makeRequests([[300, 1, 1]])
    requests.output.fill(0)
    simulate(requests, rules(1, { profile: one, horizonSeconds: 1000, life: () => fleet }), { meter })
    const ledger = livingLedger(meter, fleet.record, bought('on-demand', { onDemandPerHour: 3600, billingStepSeconds: 120 }), {
      horizonSeconds: 1000,
      replicasPerGroup: 1,
      committedGroups: 0,
    })
    expect([ledger.starting, ledger.serving, ledger.idle, ledger.leaving, ledger.rounding].map((x) => Number(x.toFixed(6)))).toEqual([
      150, 1, 449, 60, 60,
    ])
  })

  it('adds up to the bill, and no part is below 0, over random fleets with losses, spot, stopped and committed machines', () => {
    for (let seed = 0; seed < 60; seed++) {
      const random = new RandomStream(seed, 'ledger')
      const replicasPerNode = 1 + Math.floor(3 * random.next())
      const fleet = livingFleet({
        scaling: { min: 1, max: 6, metrics: [{ metric: 'in-flight', target: 2, windowSeconds: 30, baseShare: 0, sharePerRequest: 0 }] },
        seed,
        losses: {
          replicaMeanSeconds: random.next() < 0.5 ? Infinity : 300,
          nodeMeanSeconds: random.next() < 0.5 ? Infinity : 500,
          spotMeanSeconds: 400,
          spotNoticeSeconds: 20,
        },
        start: { nodeSeconds: 30 * random.next() },
        nodes: { replicasPerNode, safeNodes: [Infinity, 0, 2][seed % 3], stops: random.next() < 0.3 },
      })
      let at = 0
      const requests = makeRequests(
        Array.from({ length: 300 }, () => [(at -= 3 * Math.log(random.open())), 50, 1 + Math.floor(60 * random.next())] as const),
      )
      const meter = new Meter(1500, 30)
      simulate(requests, rules(1, { profile: tokenProfile(), horizonSeconds: 1500, life: () => fleet }), { meter })
      const how = bought(seed % 3 === 2 ? 'mixed' : 'on-demand', {
        onDemandPerHour: 3600,
        committedPerHour: 2500,
        spotPerHour: 1200,
        storagePerHour: 40,
        transferPerByte: 1e-10,
        billingStepSeconds: 60,
      })
      const committedGroups = seed % 4
      const { total } = billOf(how, fleet.record, 1500, committedGroups)
      const ledger = livingLedger(meter, fleet.record, how, { horizonSeconds: 1500, replicasPerGroup: replicasPerNode, committedGroups })
      expect(ledger.total).toBeCloseTo(total, 6)
      for (const piece of [ledger, ...ledger.pieces])
        for (const part of LEDGER_PARTS) if (piece[part] < -1e-6) throw new Error(`${part} of run ${seed} is ${piece[part]}`)
      const { seconds, values } = paidSeries(billOf(how, fleet.record, 1500, committedGroups), how)
      const area = values.reduce(
        (sum, v, i) => sum + (v * Math.max(0, Math.min(1500, seconds[i + 1] ?? 1500) - Math.min(1500, seconds[i]))) / 3600,
        0,
      )
      const stopped = fleet.record.stopped.reduce((sum, d) => sum + ((d.until - d.from) * 40) / 3600, 0)
      expect(area + ledger.rounding + ledger.transfer + stopped).toBeCloseTo(total, 6)
      expect(ledger.serving).toBeGreaterThan(0)
    }
  })

  it('gives every class its share of the time in service', () => {
    const requests = makeRequests([
      [0, 1, 1],
      [10, 1, 1],
      [20, 1, 1],
      [30, 1, 1],
    ])
    requests.output.fill(0)
    requests.classIndex[3] = 1
    const record = simulate(requests, rules(1, { profile: one, horizonSeconds: 100 }), {})
    expect(classShares(record, 2)).toEqual([0.75, 0.25])
  })
})
