import { describe, expect, it } from 'vitest'
import { simulate } from '../../src/engine/simulate.ts'
import { Stage } from '../../src/life/startRules.ts'
import { countOutcomes } from '../../src/measure/counts.ts'
import { fleetPicture } from '../../src/measure/fleetPicture.ts'
import { HORIZON_SECONDS, randomLife } from '../randomLife.ts'

const RUNS = 10_000

describe('10,000 random lives: policies × losses × time-outs × zero', () => {
  it('run without an exception, a stuck replica, a negative count or a request lost from the books', { timeout: 300_000 }, () => {
    const seen = { slept: 0, lost: 0, givenUp: 0, unplaced: 0, ready: 0, refused: 0 }
    for (let seed = 0; seed < RUNS; seed++) {
      const { fleet, nodes, requests, ruleSet } = randomLife(seed)
      const record = simulate(requests, ruleSet)
      const c = countOutcomes(record, { classIndex: -1, fromSeconds: 0, untilSeconds: Infinity })
      const came = requests.at.subarray(0, requests.count).filter((t) => t < HORIZON_SECONDS).length
      if (c.finished + c.rejected + c.abandoned + c.failed + c.unfinished < came) throw new Error(`a request of run ${seed} is in no book`)
      const life = fleet.record
      const picture = fleetPicture(life, HORIZON_SECONDS)
      for (const series of [picture.ready, picture.unplaced, picture.machines])
        if (series.values.some((v) => v < 0)) throw new Error(`a count of run ${seed} is below 0`)
      const last = new Map(life.events.map((e) => [e.replica, e]))
      const here = life.nodes.filter((n) => n.until >= HORIZON_SECONDS).length
      for (const { stage } of last.values()) {
        if (stage === Stage.unplaced && here < nodes.mostNodes) throw new Error(`a replica of run ${seed} waits for room that there is`)
        if (stage > Stage.unplaced && stage < Stage.ready && fleet.nextChange() === Infinity)
          throw new Error(`a replica of run ${seed} is stuck in its start-up`)
      }
      if (picture.machines.values.some((v) => v > nodes.mostNodes)) throw new Error(`run ${seed} has more machines than there are`)
      if (life.nodes.some((n) => !(n.until >= n.from))) throw new Error(`a machine of run ${seed} ends before it begins`)
      seen.slept += life.wanted.some((w) => w.cause === 'nobody-came') ? 1 : 0
      seen.lost += life.events.some((e) => e.cause === 'fault' || e.cause === 'machine-lost') ? 1 : 0
      seen.givenUp += life.events.some((e) => e.cause === 'timed-out') ? 1 : 0
      seen.unplaced += picture.unplaced.values.some((v) => v > 0) ? 1 : 0
      seen.ready += picture.ready.values.some((v) => v > 0) ? 1 : 0
      seen.refused += c.asleep > 0 ? 1 : 0
    }
    expect(Math.min(seen.slept, seen.lost, seen.givenUp, seen.unplaced, seen.refused)).toBeGreaterThan(RUNS / 40)
    expect(seen.ready).toBeGreaterThan(RUNS / 2)
  })
})
