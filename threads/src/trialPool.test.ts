import { driveElsewhere, driveHere, enumerate, Load, recommend, type Plan } from '@sandclock/core'
import { existsSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { join, resolve } from 'node:path'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { smallPlan } from '../../core/test/smallPlan.ts'
import { RandomStream } from '../../core/src/random/stream.ts'
import { bundled } from '../test/bundled.ts'
import { trialPool, TrialThreads } from './trialPool.ts'

const plan: Plan = smallPlan(new RandomStream(12, 'pool'), 12)
// Beside the sources, so that the bundle finds the packages that it leaves out.
const folder = mkdtempSync(resolve('threads', 'dist-test-'))

describe('a pool of threads', () => {
  let worker: URL
  let mortal: URL
  beforeAll(async () => {
    worker = await bundled(folder, 'worker', resolve('threads/src/trialWorker.ts'))
    const entry = join(folder, 'mortal.ts')
    writeFileSync(
      entry,
      `
      import { existsSync, writeFileSync } from 'node:fs'
      import run from '${resolve('threads/src/trialWorker.ts')}'
      let orders = 0
      export default function (errand) {
        const grave = '${folder}/died'
        if (++orders === 2 && !existsSync(grave)) { writeFileSync(grave, ''); process.exit(1) }
        return run(errand)
      }`,
    )
    mortal = await bundled(folder, 'mortal', entry)
  })
  afterAll(() => rmSync(folder, { recursive: true }))
  const load = () => new Load(plan, undefined, SharedArrayBuffer)
  const alone = (() => driveHere(recommend(plan, load()), load()))()

  it.each([1, 2, 3])('%d of them give the same answer, bit for bit', async (threads) => {
    const mine = load()
    const pool = trialPool(plan, mine, threads, worker)
    try {
      expect(JSON.stringify(await driveElsewhere(recommend(plan, mine), pool))).toBe(JSON.stringify(alone))
    } finally {
      await pool.stop()
    }
  })

  it('one that dies is replaced and its order done anew', async () => {
    const mine = load()
    const pool = trialPool(plan, mine, 2, mortal)
    try {
      expect(JSON.stringify(await driveElsewhere(recommend(plan, mine), pool))).toBe(JSON.stringify(alone))
      expect(existsSync(join(folder, 'died'))).toBe(true)
    } finally {
      await pool.stop()
    }
  })

  it('stopped in the middle, the search ends at once with an error', async () => {
    const mine = load()
    const pool = trialPool(plan, mine, 2, worker)
    const search = driveElsewhere(recommend(plan, mine), pool, ({ simulations }) => {
      if (simulations >= 2) void pool.stop()
    })
    await expect(search).rejects.toThrow()
  })

  it('replies that are on their way when the threads are ended are to nobody', async () => {
    const mine = load()
    const [service] = plan.services
    const { index } = enumerate(plan, service).find((c) => c.fit.fits)!
    const order = { service: service.name, candidate: index, groups: 1, repetition: 0, loadFactor: 1, toTheEnd: true }
    const uncaught: unknown[] = []
    const note = (error: unknown) => uncaught.push(error)
    const others = process.listeners('uncaughtException')
    process.removeAllListeners('uncaughtException').on('uncaughtException', note)
    try {
      for (let round = 0; round < 5; round++) {
        const own = new TrialThreads(2, worker)
        const trials = own.trials(plan, mine)
        await Promise.all([trials.run(order), trials.run(order)])
        const late = [trials.run(order), trials.run(order)].map((run) => run.catch((error: Error) => error.message))
        await Promise.resolve() // the orders are with the threads, and this one is too busy to hear of them
        Atomics.wait(new Int32Array(new SharedArrayBuffer(4)), 0, 0, 300)
        await Promise.all([trials.stop(), own.end()])
        expect(await Promise.all(late)).toEqual(['the search was stopped', 'the search was stopped'])
      }
      await new Promise((on) => setImmediate(on))
    } finally {
      process.off('uncaughtException', note)
      for (const other of others) process.on('uncaughtException', other)
    }
    expect(uncaught).toEqual([])
  })
})
