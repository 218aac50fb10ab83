import { describe, expect, it } from 'vitest'
import { smallPlan } from '../../test/smallPlan.ts'
import { solveLater } from '../../test/solver.ts'
import { recommend } from '../answer/recommend.ts'
import { RandomStream } from '../random/stream.ts'
import { Crew, HelperDied, type Errand, type Helper } from './crew.ts'
import { driveElsewhere, driveHere } from './drive.ts'
import { Errands } from './errands.ts'
import { Load } from './load.ts'

const plan = smallPlan(new RandomStream(11, 'crew'), 11)
const later = () => new Promise((resolve) => setTimeout(resolve, 0))

/** A crew of helpers in this thread; `fate` may end one before it answers. */
function crewOf(count: number, fate: (errand: Errand, nth: number) => void = () => undefined) {
  const load = new Load(plan, undefined, SharedArrayBuffer)
  const seen = { started: 0, ended: 0, errands: 0, sent: 0, busy: 0, mostBusy: 0 }
  const start = (): Helper => {
    seen.started++
    const errands = new Errands(plan)
    return {
      end: () => void seen.ended++,
      run: async (errand) => {
        seen.mostBusy = Math.max(seen.mostBusy, ++seen.busy)
        if (errand.requests) seen.sent++
        try {
          await later()
          fate(errand, seen.errands++)
          return errands.run(errand)
        } finally {
          seen.busy--
        }
      },
    }
  }
  return { crew: new Crew(start, count, load, solveLater), load, seen }
}

describe('a crew', () => {
  const alone = (() => {
    const load = new Load(plan)
    return driveHere(recommend(plan, load), load)
  })()

  it.each([1, 2, 5])('of %d gives the same answer as one thread, and sends the requests of a seed once to each', async (count) => {
    const { crew, load, seen } = crewOf(count)
    expect(await driveElsewhere(recommend(plan, load), crew)).toEqual(alone)
    expect(seen.mostBusy).toBeLessThanOrEqual(count)
    expect(seen.errands).toBeGreaterThan(seen.sent)
    await crew.stop()
    expect(seen.ended).toBe(count)
  })

  it('that grows meanwhile gives the same answer, and has as many as it was told', async () => {
    const { crew, load, seen } = crewOf(1)
    setTimeout(() => crew.growTo(3))
    expect(await driveElsewhere(recommend(plan, load), crew)).toEqual(alone)
    expect(seen).toMatchObject({ started: 3, mostBusy: 3 })
    await crew.stop()
    crew.growTo(4)
    expect(seen).toMatchObject({ started: 3, ended: 3 })
  })

  it('replaces who dies and does the order anew', async () => {
    const { crew, load, seen } = crewOf(2, (_, nth) => {
      if (nth % 5 === 2) throw new HelperDied('gone')
    })
    expect(await driveElsewhere(recommend(plan, load), crew)).toEqual(alone)
    expect(seen.started).toBeGreaterThan(4)
    expect(seen.started - seen.ended).toBe(2)
  })

  it('gives up an order that kills one helper after the other, and says so', async () => {
    const { crew, load } = crewOf(2, () => {
      throw new HelperDied('out of memory')
    })
    await expect(driveElsewhere(recommend(plan, load), crew)).rejects.toThrow('out of memory')
  })

  it('passes on what is wrong with the order itself, and keeps the helper', async () => {
    const { crew, load, seen } = crewOf(1, () => {
      throw new Error('no such thing')
    })
    await expect(driveElsewhere(recommend(plan, load), crew)).rejects.toThrow('no such thing')
    expect(seen.started).toBe(1)
  })

  it('once stopped starts nobody and leaves nobody', async () => {
    const { crew, load, seen } = crewOf(3, () => void crew.stop())
    void driveElsewhere(recommend(plan, load), crew).catch(() => undefined)
    await later()
    await later()
    await later()
    expect([seen.started, seen.ended, seen.busy]).toEqual([3, 3, 0])
  })
})
