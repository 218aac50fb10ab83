import { describe, expect, it } from 'vitest'
import { context, livingFleet, scalingRules, scripted } from '../../test/fleets.ts'
import { batchProfile, rules } from '../../test/makeProfiles.ts'
import { makeRequests } from '../../test/makeRequests.ts'
import { Outcome } from '../engine/outcome.ts'
import { simulate } from '../engine/simulate.ts'
import { happenings } from '../explain/lifeWords.ts'
import { makeController } from '../scaling/makeController.ts'
import type { LivingFleet } from './livingFleet.ts'
import { Stage } from './startRules.ts'

const one = batchProfile({ maxBatch: 1, baseSeconds: 10, secondsPerWorkUnit: 0 })
const arrivals = (at: readonly number[]) => makeRequests(at.map((t) => [t, 1, 1] as const))
function live(fleet: LivingFleet, requests = arrivals([]), horizonSeconds = 1000) {
  return simulate(requests, rules(1, { profile: one, horizonSeconds, life: () => fleet }))
}
const times = (fleet: LivingFleet, stage: number) => fleet.record.events.filter((e) => e.stage === stage).map((e) => e.seconds)

describe('what there is at the start', () => {
  it('running: ready at 0 on machines that are there and paid, with nothing fetched', () => {
    const fleet = livingFleet({
      begin: 'running',
      nodes: { replicasPerNode: 2 },
      controller: scripted([
        [0, 3],
        [50, 4],
      ]),
    })
    const record = live(fleet, arrivals([0, 0]))
    expect([...record.start]).toEqual([0, 0])
    // The fourth finds room on the second machine, where image and weights of a store are: 20 s of weights, 5 of loading, 15 of warm-up.
    expect(times(fleet, Stage.ready)).toEqual([0, 0, 0, 90])
    expect(fleet.record.nodes.map((n) => n.from)).toEqual([0, 0])
    expect(fleet.record.fetched).toEqual([{ seconds: 50, bytes: 20e9 }])
    const told = happenings(fleet.record, { startIso: '2027-03-01T00:00:00Z', limitedBy: 'stock' }, 0, 1000).map((h) => h.words)
    expect(told.slice(0, 3)).toEqual(
      ['first', 'second', 'third'].map((n) => `Mon 00:00:00 ${n} copy is there: it runs from before the start`),
    )
    expect(told[3]).toMatch(/^Mon 00:00:50 fourth copy asked for/)
  })

  it('running, with more than can be had: the others wait for room', () => {
    const fleet = livingFleet({ begin: 'running', nodes: { mostNodes: 2 }, controller: scripted([[0, 3]]) })
    live(fleet)
    expect(times(fleet, Stage.ready)).toEqual([0, 0])
    expect(times(fleet, Stage.unplaced)).toEqual([0])
  })

  it('stopped: machines come back in their resume time, with image and kept weights', () => {
    const fleet = livingFleet({
      begin: 'stopped',
      nodes: { stops: true },
      start: { weightsFrom: 'node', resumeSeconds: 60 },
      controller: scripted([[0, 1]]),
    })
    live(fleet)
    expect(times(fleet, Stage.ready)).toEqual([60 + 5 + 15])
    expect(fleet.record.fetched).toEqual([])
  })

  it('unloaded: copies are there without their model, which is loaded again, or takes the time that is stated', () => {
    const ready = (start: object) => {
      const fleet = livingFleet({ begin: 'unloaded', start: { keptWarmupSeconds: 40, ...start }, controller: scripted([[0, 1]]) })
      live(fleet)
      expect(fleet.record.fetched).toEqual([])
      expect(fleet.record.nodes.map((n) => n.from)).toEqual([0])
      return times(fleet, Stage.ready)
    }
    expect(ready({})).toEqual([5 + 15])
    expect(ready({ backSeconds: 8 })).toEqual([8])
    expect(ready({ weightsFrom: 'image' })).toEqual([5 + 15])
  })

  it('nothing: every start-up is simulated', () => {
    const fleet = livingFleet({ begin: 'nothing', controller: scripted([[0, 1]]) })
    live(fleet)
    expect(times(fleet, Stage.ready)).toEqual([150])
  })

  it('of a policy it is the minimum, raised by the schedule', () => {
    const c = makeController(
      scalingRules({ min: 1, max: 9, schedule: [{ days: [0], fromSeconds: 0, untilSeconds: 100, min: 4 }] }),
      context(),
    )
    expect(c.initial).toBe(4)
  })
})

describe('a machine that is stopped', () => {
  it('before it came has nothing on its disk, nor a disk', () => {
    // Asked for at 10 s, sent home at 20 s while it was coming; asked for again at 300 s: all of it is new.
    const fleet = livingFleet({
      nodes: { stops: true, idleSeconds: 30 },
      start: { weightsFrom: 'node' },
      controller: scripted([
        [10, 1],
        [20, 0],
        [300, 1],
      ]),
    })
    live(fleet)
    expect(fleet.record.stopped).toEqual([])
    expect(times(fleet, Stage.ready)).toEqual([450])
  })

  it('while it pulled has no image when it comes back', () => {
    // There at 110 s, pulling until 210; sent home at 115 s, stopped at 145; back from 300 s in 60: image 100, weights 20, load 5, warm-up
    // 15.
    const fleet = livingFleet({
      nodes: { stops: true, idleSeconds: 30 },
      start: { weightsFrom: 'node', resumeSeconds: 60, imageBytesPerSecond: 0.1e9 },
      controller: scripted([
        [10, 1],
        [115, 0],
        [300, 1],
      ]),
    })
    live(fleet)
    expect(fleet.record.stopped.map((d) => [d.from, d.until])).toEqual([[145, 300]])
    expect(times(fleet, Stage.ready)).toEqual([500])
  })
})

describe('who drains', () => {
  it('has finished what ends at the very end of the grace, and has lost what would end after it', () => {
    const outcomes = [10, 10.1].map((seconds) => {
      const fleet = livingFleet({
        begin: 'running',
        nodes: { graceSeconds: 5 },
        controller: scripted([
          [0, 1],
          [205, 0],
        ]),
      })
      return simulate(
        arrivals([200]),
        rules(1, {
          profile: batchProfile({ maxBatch: 1, baseSeconds: seconds, secondsPerWorkUnit: 0 }),
          horizonSeconds: 1000,
          life: () => fleet,
        }),
      ).outcome[0]
    })
    expect(outcomes).toEqual([Outcome.finished, Outcome.failed])
  })
})

describe('a drill', () => {
  it('is told as long before as other losses: the replica drains, and another is asked for because of it', () => {
    const fleet = livingFleet({
      begin: 'running',
      nodes: { graceSeconds: 100 },
      controller: scripted([[0, 1]]),
      losses: { noticeSeconds: 40, drills: [{ seconds: 300, what: 'node', number: 0 }] },
    })
    const record = live(fleet, arrivals([255]))
    expect(times(fleet, Stage.draining)).toEqual([260])
    expect(record.outcome[0]).toBe(Outcome.finished)
    // It had nothing left at 265 s, and its machine was gone 60 s later or at 300 s, whichever was first.
    expect(fleet.record.nodes[0].until).toBe(300)
    const asked = fleet.record.events.filter((e) => e.stage === Stage.unplaced)
    expect(asked.map((e) => [e.seconds, e.cause])).toEqual([[260, { inPlaceOf: 'machine-noticed' }]])
    expect(
      happenings(fleet.record, { startIso: '2027-03-01T00:00:00Z', limitedBy: 'stock' }, 0, 1000).some((h) =>
        h.words.includes('asked for (in place of one: its machine is taken away)'),
      ),
    ).toBe(true)
  })

  it('with a policy at its maximum the replacement does not wait for the notice to be over', () => {
    const fleet = livingFleet({
      begin: 'running',
      nodes: { mostNodes: 3, graceSeconds: 100 },
      scaling: { min: 1, max: 1 },
      losses: { noticeSeconds: 90, drills: [{ seconds: 400, what: 'node', number: 0 }] },
    })
    live(fleet)
    expect(fleet.record.nodes.map((n) => n.from)).toEqual([0, 310])
  })
})

describe('a schedule over a service that sleeps', () => {
  const fleet = () =>
    livingFleet({
      scaling: {
        min: 0,
        max: 3,
        idle: { seconds: 50, firstCaller: 'hold' },
        schedule: [{ days: [0], fromSeconds: 300, untilSeconds: 600, min: 2 }],
      },
    })
  it('wakes it at the first reading of its window and keeps it awake until the window is over', () => {
    const one = fleet()
    live(one, arrivals([]), 1500)
    expect(one.record.wanted.map((w) => [w.seconds, w.replicas, w.cause])).toEqual([
      [300, 2, 'schedule'],
      [600, 1, 'none-wanted'],
      [600, 0, 'nobody-came'],
    ])
  })
})

describe('the processor of hosts', () => {
  it('counts for no more than there is at any moment, not only on average', () => {
    // 200 in flight for the first half of a minute, none in the second: 1 and 5 %, on average 52.5 %; uncapped it would be above 1.
    const fleet = livingFleet({
      begin: 'running',
      scaling: {
        min: 1,
        max: 1,
        intervalSeconds: 60,
        metrics: [{ metric: 'host-cpu', target: 0.6, windowSeconds: 60, baseShare: 0.05, sharePerRequest: 0.1 }],
      },
    })
    const profile = batchProfile({ maxBatch: 200, baseSeconds: 30, secondsPerWorkUnit: 0 })
    simulate(arrivals(new Array<number>(200).fill(0)), rules(1, { profile, horizonSeconds: 90, life: () => fleet }))
    expect(fleet.record.readings.values[0]).toBeCloseTo(0.525, 9)
  })
})
