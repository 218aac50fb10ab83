import { spawnSync } from 'node:child_process'
import { mkdtempSync, rmSync } from 'node:fs'
import { resolve } from 'node:path'
import { fileURLToPath } from 'node:url'
import { afterAll, describe, expect, it } from 'vitest'
import { bundled } from '../../threads/test/bundled.ts'

const SEARCHES = 200
const folder = mkdtempSync(resolve('threads', 'dist-test-'))
afterAll(() => rmSync(folder, { recursive: true }))

describe('the memory of the server', () => {
  it(`is bounded after ${SEARCHES} searches that were begun and stopped, or left by who listened`, async () => {
    const [worker, program] = await Promise.all([
      bundled(folder, 'worker', 'threads/src/trialWorker.ts'),
      bundled(folder, 'program', 'server/test/beginAndStop.ts'),
    ])
    const { stdout, stderr, status } = spawnSync('node', ['--expose-gc', fileURLToPath(program), worker.href, String(SEARCHES)], {
      encoding: 'utf8',
    })
    expect(status, stderr).toBe(0)
    const { early, late } = JSON.parse(stdout) as { early: number; late: number }
    // Each left tens of MB behind once: 180 of them would be gigabytes.
    expect(late - early).toBeLessThan(200)
  })
})
