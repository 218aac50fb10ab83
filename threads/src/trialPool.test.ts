import { driveElsewhere, driveHere, Load, recommend, type Plan } from '@sandclock/core'
import { existsSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { smallPlan } from '../../core/test/smallPlan.ts'
import { RandomStream } from '../../core/src/random/stream.ts'
import { bundled } from '../test/bundled.ts'
import { trialPool } from './trialPool.ts'

const plan: Plan = smallPlan(new RandomStream(12, 'pool'), 12)
// Beside the sources, so that the bundle finds the packages that it leaves out.
const folder = mkdtempSync(join(import.meta.dirname, '..', 'dist-test-'))

describe('a pool of threads', () => {
  let worker: URL
  let mortal: URL
  beforeAll(async () => {
    worker = await bundled(folder, 'worker', join(import.meta.dirname, 'trialWorker.ts'))
    const entry = join(folder, 'mortal.ts')
    writeFileSync(entry, `
      import { existsSync, writeFileSync } from 'node:fs'
      import run from '${join(import.meta.dirname, 'trialWorker.ts')}'
      let orders = 0
      export default function (errand) {
        const grave = '${folder}/died'
        if (++orders === 2 && !existsSync(grave)) { writeFileSync(grave, ''); process.exit(1) }
        return run(errand)
      }`)
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
})
