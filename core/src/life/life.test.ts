import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { livingFleet, scripted, startRules } from '../../test/fleets.ts'
import { batchProfile, classRules, rules, tokenProfile } from '../../test/makeProfiles.ts'
import { makeRequests } from '../../test/makeRequests.ts'
import { LateSplit } from '../engine/lateSplit.ts'
import { Outcome } from '../engine/outcome.ts'
import { simulate } from '../engine/simulate.ts'
import { countOutcomes } from '../measure/counts.ts'
import { RandomStream } from '../random/stream.ts'
import type { LivingFleet } from './livingFleet.ts'
import { Reads } from './reads.ts'
import { Stage, stageSeconds } from './startRules.ts'

const one = batchProfile({ maxBatch: 1, baseSeconds: 1, secondsPerWorkUnit: 0 })
const arrivals = (times: readonly number[]) => makeRequests(times.map((t) => [t, 1, 1] as const))

function live(fleet: LivingFleet, requests = arrivals([]), horizonSeconds = 1000, more = {}) {
  const record = simulate(requests, rules(1, { profile: one, horizonSeconds, life: () => fleet, ...more }))
  return { record, life: fleet.record }
}
const times = (fleet: LivingFleet, stage: number) => fleet.record.events.filter((e) => e.stage === stage).map((e) => e.seconds)

describe('an image that two replicas of one machine want', () => {
  it('is pulled once: who comes 4 s later waits for what is left of it', () => {
    // The machine is there at 100. The first pulls 10 s; the second, asked for at 104, goes on with it at 110.
    const fleet = livingFleet({
      nodes: { replicasPerNode: 2 },
      controller: scripted([
        [0, 1],
        [104, 2],
      ]),
      start: { weightsFrom: 'image', imageBytesPerSecond: 3e9 },
    })
    live(fleet)
    expect(times(fleet, Stage.image)).toEqual([100, 104])
    expect(times(fleet, Stage.load).map((t) => Number(t.toFixed(9)))).toEqual([110, 110])
    expect(fleet.record.nodes).toHaveLength(1)
  })
})

describe('a warm-up of two parts', () => {
  it('is done whole once on a machine, and then without what is kept there: also after the machine was stopped', () => {
    // The machine is there at 100, and nothing is to be fetched or loaded. 15 s each time, 40 s more the first time.
    const fleet = livingFleet({
      nodes: { idleSeconds: 5, stops: true },
      controller: scripted([
        [0, 1],
        [200, 0],
        [300, 1],
        [500, 2],
      ]),
      start: { imageBytes: 0, weightBytes: 0, resumeSeconds: 30, keptWarmupSeconds: 40 },
    })
    live(fleet, arrivals([]), 2000)
    // 100 + 55; stopped, and resumed in 30 s: 300 + 30 + 15; a second machine of its own: 500 + 100 + 55.
    expect(times(fleet, Stage.ready)).toEqual([155, 345, 655])
  })

  it('of two that start at once on one machine is done by both', () => {
    const fleet = livingFleet({
      nodes: { replicasPerNode: 3 },
      controller: scripted([
        [0, 2],
        [400, 3],
      ]),
      start: { imageBytes: 0, weightBytes: 0, keptWarmupSeconds: 40 },
    })
    live(fleet, arrivals([]), 2000)
    expect(times(fleet, Stage.ready)).toEqual([155, 155, 415])
  })
})

describe('a copy whose model is unloaded', () => {
  const loaded = (start: object, nodes: object = {}) => {
    const fleet = livingFleet({
      nodes: { replicasPerNode: 2, unloads: true, idleSeconds: Infinity, ...nodes },
      controller: scripted([
        [0, 1],
        [200, 0],
        [300, 1],
        [500, 2],
        [600, 0],
        [700, 2],
      ]),
      start: { keptWarmupSeconds: 40, ...start },
    })
    return { fleet, ...live(fleet, arrivals([]), 2000) }
  }

  it('only loads it again, on a machine that stays and is paid all the while', () => {
    const { fleet, life } = loaded({})
    // The first from nothing: 100 + 10 + 20 + 5 + 15 + 40. Unloaded at 200, and back 5 + 15 after 300. The second copy on that machine has
    // the image there and reads weights for itself: 500 + 20 + 5 + 15. Both are unloaded, and back at once.
    expect(times(fleet, Stage.ready)).toEqual([190, 320, 540, 720, 720])
    expect(life.nodes).toEqual([{ from: 0, until: 2000, spot: false }])
    expect(life.fetched.map((f) => f.seconds)).toEqual([500])
  })

  it('takes the time that is stated for it, wherever weights come from', () => {
    for (const weightsFrom of ['store', 'image', 'node'] as const)
      expect(times(loaded({ weightsFrom, backSeconds: 7 }).fleet, Stage.ready).slice(3)).toEqual([707, 707])
  })

  it('goes with its machine where that is given back after a time', () => {
    const { fleet, life } = loaded({}, { idleSeconds: 60 })
    expect(life.nodes.map((n) => [n.from, n.until]).slice(0, 2)).toEqual([
      [0, 260],
      [300, 660],
    ])
    expect(times(fleet, Stage.ready).slice(0, 2)).toEqual([190, 490])
  })

  it('that broke has nothing to load again', () => {
    const fleet = livingFleet({
      nodes: { unloads: true, idleSeconds: Infinity },
      controller: scripted([[0, 1]]),
      start: { weightsFrom: 'store' },
      losses: { drills: [{ seconds: 300, what: 'replica', number: 0 }] },
    })
    live(fleet)
    // On the same machine, whose image is there: 20 of weights, 5, 15.
    expect(times(fleet, Stage.ready)).toEqual([150, 340])
  })
})

describe('images that several machines pull at once', () => {
  it('share the rate of their source: two of 10 GB at 1 GB/s together, the second machine 4 s later, as worked by hand', () => {
    // 100–104 s: the first has 4 GB. From 104 s both at 0.5: the first is done at 116, with 6 of the second's; alone at 1 it is done at
    // 120.
    const fleet = livingFleet({
      controller: scripted([
        [0, 1],
        [4, 2],
      ]),
      start: { weightsFrom: 'image', weightBytes: 0, imageTotalBytesPerSecond: 1e9 },
    })
    live(fleet)
    expect(times(fleet, Stage.image)).toEqual([100, 104])
    expect(times(fleet, Stage.weights).map((t) => Number(t.toFixed(9)))).toEqual([116, 120])
  })

  it('a machine that is lost while it pulls leaves the rate to the others', () => {
    const fleet = livingFleet({
      controller: scripted([[0, 2]]),
      start: { weightsFrom: 'image', weightBytes: 0, imageTotalBytesPerSecond: 1e9 },
      losses: { drills: [{ seconds: 105, what: 'node', number: 0 }] },
    })
    live(fleet)
    // Until 105 each has 2.5 GB; then the other alone needs 7.5 s, and the replacement pulls from 205 on.
    expect(times(fleet, Stage.weights).map((t) => Number(t.toFixed(9)))).toEqual([112.5, 215])
  })
})

describe('the network of one machine', () => {
  it('is shared by what is read on it at once: four replicas of 20 GB over 1 GB/s take 80 s, not 20', () => {
    const fleet = livingFleet({
      nodes: { replicasPerNode: 4 },
      controller: scripted([[0, 4]]),
      start: { imageBytes: 0, weightBytesPerSecond: 1e9, networkBytesPerSecond: 1e9 },
    })
    live(fleet)
    expect(times(fleet, Stage.load).map((t) => Number(t.toFixed(6)))).toEqual([180, 180, 180, 180])
    const apart = livingFleet({
      nodes: { replicasPerNode: 1 },
      controller: scripted([[0, 4]]),
      start: { imageBytes: 0, weightBytesPerSecond: 1e9, networkBytesPerSecond: 1e9 },
    })
    live(apart)
    expect(times(apart, Stage.load)).toEqual([120, 120, 120, 120])
  })

  it('by an image and weights alike, each no faster than its source lets it, as worked by hand', () => {
    // One machine of 2 GB/s. From 0 s an image of 6 GB, of which the source gives 1.5; from 2 s weights of 8 GB at up to 5.
    // 0–2 s: the image at 1.5, 3 GB. From 2 s both at 1: the image is done at 5 s. Then the weights, of which 5 are left, at 2: done at
    // 7.5 s.
    const read = new Reads(
      {
        image: { eachBytesPerSecond: 9e9, totalBytesPerSecond: 1.5e9 },
        weights: { eachBytesPerSecond: 5e9, totalBytesPerSecond: Infinity },
      },
      2e9,
    )
    read.join('image', 0, 0, 6e9, 0)
    read.join('weights', 3, 0, 8e9, 2)
    expect(read.nextEnd()).toBeCloseTo(5, 9)
    expect(read.takeDone(read.nextEnd())).toEqual({ kind: 'image', reader: 0 })
    expect(read.nextEnd()).toBeCloseTo(7.5, 9)
  })
})

const weightsOf = (total: number, each: number) =>
  new Reads(
    { image: { eachBytesPerSecond: 1, totalBytesPerSecond: 1 }, weights: { eachBytesPerSecond: each, totalBytesPerSecond: total } },
    Infinity,
  )

describe('a source that simultaneous readers share', () => {
  it('three readers of 12 GB at 1 GB/s together, the second 3 s and the third 6 s later, as worked by hand', () => {
    // 0–3 s: one reader takes 3 GB. 3–6 s: two at 0.5: first has 4.5, second 1.5. From 6 s three at a third each: the first
    // needs 7.5 GB more, 22.5 s: done at 28.5. Then second has 9 and third 7.5: two at 0.5, second needs 3: 6 s, done at 34.5.
    // Third has 10.5, alone at 1: done at 36.
    const read = weightsOf(1e9, 10e9)
    read.join('weights', 0, 0, 12e9, 0)
    read.join('weights', 1, 1, 12e9, 3)
    read.join('weights', 2, 2, 12e9, 6)
    const ends: number[] = []
    for (let i = 0; i < 3; i++) {
      const t = read.nextEnd()
      ends.push(t)
      expect(read.takeDone(t)?.reader).toBe(i)
    }
    expect(ends.map((t) => Number(t.toFixed(9)))).toEqual([28.5, 34.5, 36])
    expect(read.nextEnd()).toBe(Infinity)
  })

  it('nobody reads faster than alone, and all bytes are read: total time is at least bytes over the rate of the source', () => {
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.double({ min: 0, max: 50, noNaN: true }), fc.double({ min: 1, max: 100, noNaN: true })), {
          minLength: 1,
          maxLength: 8,
        }),
        fc.double({ min: 0.5, max: 5, noNaN: true }),
        (joins, total) => {
          const read = weightsOf(total, 2)
          const sorted = joins.map(([t, b], i) => ({ t, b, i })).sort((a, b) => a.t - b.t || a.i - b.i)
          const done = new Map<number, number>()
          let next = 0
          while (done.size < sorted.length) {
            const end = read.nextEnd()
            if (next < sorted.length && sorted[next].t <= end)
              read.join('weights', sorted[next].i, sorted[next].i, sorted[next].b, sorted[next++].t)
            else done.set(read.takeDone(end)?.reader ?? -1, end)
          }
          for (const { t, b, i } of sorted) expect((done.get(i) ?? 0) - t).toBeGreaterThanOrEqual(b / Math.min(2, total) - 1e-9)
          const last = Math.max(...done.values())
          expect(last - sorted[0].t).toBeGreaterThanOrEqual(sorted.reduce((s, x) => s + x.b, 0) / total - 1e-6)
        },
      ),
      { numRuns: 200, seed: 31 },
    )
  })
})

describe('start-ups, stage by stage, worked by hand', () => {
  it('one replica from nothing: machine 100, image 10, weights 20, load 5, warm-up 15', () => {
    const fleet = livingFleet({ controller: scripted([[0, 1]]) })
    const { record, life } = live(fleet, arrivals([50]))
    expect([Stage.machine, Stage.image, Stage.weights, Stage.load, Stage.warmup, Stage.ready].map((s) => times(fleet, s)[0])).toEqual([
      0, 100, 110, 130, 135, 150,
    ])
    expect(record.start[0]).toBeCloseTo(150, 9)
    expect(life.nodes).toEqual([{ from: 0, until: 1000, spot: false }])
  })

  it('a second on the same node skips the image; weights kept on the node are skipped as well', () => {
    for (const [weightsFrom, ready] of [
      ['store', 240],
      ['node', 220],
    ] as const) {
      const fleet = livingFleet({
        controller: scripted([
          [0, 1],
          [200, 2],
        ]),
        nodes: { replicasPerNode: 4 },
        start: { weightsFrom },
      })
      live(fleet)
      expect(times(fleet, Stage.ready)).toEqual([150, ready])
      expect(fleet.record.nodes).toHaveLength(1)
    }
  })

  it('four at once on four nodes share the source of weights: 20 GB each at 2 GB/s together', () => {
    const fleet = livingFleet({ controller: scripted([[0, 4]]), start: { weightTotalBytesPerSecond: 2e9 } })
    live(fleet)
    expect(times(fleet, Stage.ready)).toEqual([170, 170, 170, 170])
    expect(stageSeconds(startRules({ weightTotalBytesPerSecond: 2e9 }), true, 4)).toEqual({
      machine: 100,
      image: 10,
      weights: 40,
      load: 5,
      warmup: 15,
    })
  })

  it('weights in the image make that larger and are not fetched', () => {
    const fleet = livingFleet({ controller: scripted([[0, 1]]), start: { weightsFrom: 'image' } })
    live(fleet)
    expect(times(fleet, Stage.load)).toEqual([130])
    expect(times(fleet, Stage.ready)).toEqual([150])
  })

  it('a start-up longer than its time-out is begun anew with what it left on the node, and comes in the end', () => {
    // Node at 100, image until 110, weights would be there at 130, load until 135; 40 s of time-out end at 140, in the warm-up.
    const fleet = livingFleet({ controller: scripted([[0, 1]]), start: { timeoutSeconds: 40, weightsFrom: 'node' } })
    live(fleet)
    expect(fleet.record.events.filter((e) => e.cause === 'timed-out').map((e) => e.seconds)).toEqual([140])
    // Image and weights are there: load 5 and warm-up 15 from 140 on.
    expect(times(fleet, Stage.ready)).toEqual([160])
  })

  it('copies that no machine can be had for wait, and are placed when one is free', () => {
    const fleet = livingFleet({
      controller: scripted([
        [0, 3],
        [300, 1],
        [400, 2],
      ]),
      nodes: { mostNodes: 2, graceSeconds: 0, idleSeconds: 0 },
    })
    live(fleet, arrivals([]), 800)
    expect(times(fleet, Stage.ready).slice(0, 2)).toEqual([150, 150])
    const unplaced = fleet.record.events.filter((e) => e.replica === 2)
    expect(unplaced.map((e) => [e.seconds, e.stage])).toEqual([
      [0, Stage.unplaced],
      [300, Stage.none],
    ])
    expect(times(fleet, Stage.ready)[2]).toBe(550)
  })

  it('a replica that drains finishes what it has and takes nothing new; after the grace it is gone', () => {
    const fleet = livingFleet({
      controller: scripted([
        [0, 2],
        [200, 1],
      ]),
      start: { nodeSeconds: 0, imageBytes: 0, weightBytes: 0, warmupSeconds: 0 },
      nodes: { graceSeconds: 30 },
    })
    const slow = batchProfile({ maxBatch: 1, baseSeconds: 100, secondsPerWorkUnit: 0 })
    const { record } = live(fleet, arrivals([150, 160]), 1000, {
      profile: slow,
      classes: [classRules({ retries: { most: 1, firstPauseSeconds: 5, growth: 1, jitter: 0 } })],
    })
    // Replica 1 has the second request, would end at 260, but its grace is over at 230; the caller comes again at 235.
    expect(record.replica[1]).toBe(0)
    expect(record.start[1]).toBeCloseTo(250, 9)
    expect(record.outcome[1]).toBe(Outcome.finished)
    const kept = live(
      livingFleet({
        controller: scripted([
          [0, 2],
          [200, 1],
        ]),
        start: { nodeSeconds: 0, imageBytes: 0, weightBytes: 0, warmupSeconds: 0 },
        nodes: { graceSeconds: 300 },
      }),
      arrivals([150, 160]),
      1000,
      { profile: slow },
    )
    expect(kept.record.end[1]).toBeCloseTo(260, 9)
  })

  it('nodes are paid from the order until they are given back after their idle time', () => {
    const fleet = livingFleet({
      controller: scripted([
        [0, 2],
        [300, 1],
      ]),
      nodes: { idleSeconds: 60 },
    })
    live(fleet, arrivals([]), 1000)
    expect(fleet.record.nodes).toEqual([
      { from: 0, until: 1000, spot: false },
      { from: 0, until: 360, spot: false },
    ])
  })
})

describe('a machine that does not come at the first attempt', () => {
  it('is tried for again and again, and paid from the attempt that succeeds', () => {
    const attempts = Array.from({ length: 400 }, (_, seed) => {
      const fleet = livingFleet({ seed, controller: scripted([[0, 1]]), start: { availability: 0.25, retrySeconds: 7 } })
      live(fleet, arrivals([]), 5000)
      const [{ from }] = fleet.record.nodes
      expect(times(fleet, Stage.image)).toEqual([from + 100])
      return from / 7
    })
    expect(attempts.every(Number.isInteger)).toBe(true)
    // Failures before the first success of chance 1/4 are 3 on average, with a standard deviation of √12; 400 of them are within 3 σ of
    // that.
    expect(Math.abs(attempts.reduce((a, b) => a + b, 0) / 400 - 3)).toBeLessThan(3 * Math.sqrt(12 / 400))
    expect(attempts.filter((n) => n === 0).length / 400).toBeCloseTo(0.25, 1)
  })

  it('costs nothing where it is not wanted any more before it comes', () => {
    const fleet = livingFleet({
      seed: 3,
      controller: scripted([
        [0, 0],
        [50, 1],
        [51, 0],
      ]),
      nodes: { idleSeconds: 0 },
      start: { availability: 0.01, retrySeconds: 100 },
    })
    live(fleet, arrivals([]), 5000)
    expect(fleet.record.nodes.every((n) => n.until === n.from)).toBe(true)
  })
})

describe('losses', () => {
  it('a drill takes a replica: what it held fails without retries, and another one starts', () => {
    const fleet = livingFleet({ controller: scripted([[0, 1]]), losses: { drills: [{ seconds: 200, what: 'replica', number: 0 }] } })
    const { record } = live(fleet, arrivals([199.5, 199.6]))
    expect([...record.outcome]).toEqual([Outcome.failed, Outcome.failed])
    expect([...record.end]).toEqual([200, 200])
    // Same node, image there: weights 20, load 5, warm-up 15.
    expect(times(fleet, Stage.ready)).toEqual([150, 240])
  })

  it('a spot node tells before it goes: its replica drains meanwhile, another comes at once', () => {
    const fleet = livingFleet({
      controller: scripted([[0, 1]]),
      losses: { nodeMeanSeconds: 400, noticeSeconds: 120 },
      nodes: { graceSeconds: 1000 },
      seed: 3,
    })
    live(fleet, arrivals([]), 4000)
    const drains = fleet.record.events.filter((e) => e.cause === 'machine-noticed')
    expect(drains.length).toBeGreaterThan(1)
    for (const n of fleet.record.nodes.slice(0, -1)) expect(n.until).toBeGreaterThan(n.from)
    const [first] = drains
    expect(fleet.record.events.some((e) => e.stage === Stage.machine && e.seconds === first.seconds)).toBe(true)
  })

  it('every request ends in exactly one way through any losses, and paid time is the sum of the nodes', () => {
    fc.assert(
      fc.property(
        fc.nat(1e6),
        fc.constantFrom(80, 300, 2000),
        fc.boolean(),
        fc.constantFrom('least-busy' as const, 'shared-queue' as const),
        (seed, mean, retry, routing) => {
          const fleet = livingFleet({
            scaling: { min: 1, max: 5, metrics: [{ metric: 'in-flight', target: 3, windowSeconds: 30, baseShare: 0, sharePerRequest: 0 }] },
            seed,
            losses: { replicaMeanSeconds: mean, nodeMeanSeconds: 3 * mean, noticeSeconds: 20 },
            start: { nodeSeconds: 20, nodeSpread: 0.4, weightTotalBytesPerSecond: 2e9 },
            nodes: { replicasPerNode: 2, mostNodes: 3 },
          })
          const random = new RandomStream(seed, 'through losses')
          let at = 0
          const requests = makeRequests(
            Array.from(
              { length: 400 },
              () =>
                [(at -= 2 * Math.log(random.open())), 50 + Math.floor(400 * random.next()), 1 + Math.floor(90 * random.next())] as const,
            ),
          )
          const late = new LateSplit(400, [{ classIndex: 0, measure: 'latency', seconds: 0 }], 2, 2000, 50)
          const retries = retry ? { retries: { most: 2, firstPauseSeconds: 1, growth: 2, jitter: 0.2 } } : {}
          const record = simulate(
            requests,
            rules(1, {
              profile: tokenProfile(),
              routing,
              horizonSeconds: 2000,
              life: () => fleet,
              classes: [classRules(retries), classRules()],
            }),
            { late },
          )
          const c = countOutcomes(record, { classIndex: -1, fromSeconds: 0, untilSeconds: Infinity })
          expect(c.arrivals).toBe(400)
          for (let i = 0; i < 400; i++)
            if (
              record.outcome[i] === Outcome.finished &&
              !(record.at[i] <= record.start[i] && record.start[i] <= record.firstToken[i] && record.firstToken[i] <= record.end[i])
            )
              throw new Error(`request ${i}`)
          const all = late.between(0, 2000)
          let latencies = 0
          for (let i = 0; i < 400; i++) if (record.outcome[i] === Outcome.finished) latencies += record.end[i] - record.at[i]
          expect(all.machineSeconds + all.startUpSeconds + all.queueSeconds + all.othersSeconds + all.ownSeconds).toBeCloseTo(latencies, 5)
          expect(Math.min(all.machineSeconds, all.startUpSeconds)).toBeGreaterThanOrEqual(0)
          // Every node that came is paid, from its order to its end; replicas are only on nodes that are there.
          for (const e of fleet.record.events)
            if (e.stage === Stage.ready) {
              const n = fleet.record.nodes[e.node]
              expect(e.seconds).toBeGreaterThanOrEqual(n.from)
              expect(e.seconds).toBeLessThanOrEqual(n.until)
            }
        },
      ),
      { numRuns: 60, seed: 41, endOnFailure: true },
    )
  })
})

describe('to zero and back', () => {
  const sleeping = (firstCaller: 'hold' | 'refuse', more = {}) =>
    livingFleet({ scaling: { min: 0, max: 3, idle: { seconds: 120, firstCaller }, metrics: [], ...more } })

  it('the first caller asks for a replica and waits for all of its start-up; after the idle time it is gone', () => {
    const fleet = sleeping('hold')
    const { record, life } = live(fleet, arrivals([100, 600]), 1000)
    expect([...record.start].map((t) => Number(t.toFixed(6)))).toEqual([250, 750])
    // Served until 251, idle for 120 s; the node 60 s more.
    expect(life.wanted.map((w) => [w.seconds, w.replicas])).toEqual([
      [100, 1],
      [371, 0],
      [600, 1],
      [871, 0],
    ])
    expect(life.nodes).toEqual([
      { from: 100, until: 431, spot: false },
      { from: 600, until: 931, spot: false },
    ])
  })

  it('or is refused while the service sleeps, and wakes it for those who come later', () => {
    const { record } = live(sleeping('refuse'), arrivals([100, 200, 260]), 1000)
    expect([...record.outcome]).toEqual([Outcome.rejected, Outcome.rejected, Outcome.finished])
    expect(countOutcomes(record, { classIndex: -1, fromSeconds: 0, untilSeconds: Infinity }).asleep).toBe(2)
  })

  it('calls that keep it awake stop the idle clock; a wake call before the office opens hides the start-up', () => {
    const awake = sleeping('hold', { keepAwakeSeconds: 100 })
    expect(live(awake, arrivals([600]), 1000).record.start[0]).toBeCloseTo(600, 9)
    const woken = sleeping('hold', { wakeAtSeconds: [400] })
    const { record } = live(woken, arrivals([560]), 1000)
    expect(record.start[0]).toBeCloseTo(560, 9)
  })
})
