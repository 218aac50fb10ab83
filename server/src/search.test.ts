import { driveHere, Load, recommend } from '@sandclock/core'
import { mkdtempSync, rmSync } from 'node:fs'
import { join } from 'node:path'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { skerrySound } from '../../examples/make/skerrySound.ts'
import { smallPlan } from '../../core/test/smallPlan.ts'
import { RandomStream } from '../../core/src/random/stream.ts'
import { bundled } from '../../threads/test/bundled.ts'
import { searches } from './search.ts'

const plan = smallPlan(new RandomStream(11, 'crew'), 11)
const folder = mkdtempSync(join(import.meta.dirname, '..', '..', 'threads', 'dist-test-'))
let worker: URL

beforeAll(async () => {
  worker = await bundled(folder, 'worker', 'threads/src/trialWorker.ts')
})
afterAll(() => rmSync(folder, { recursive: true }))

const ask = (body: string, signal?: AbortSignal, api = searches(2, worker)) =>
  api.request('/recommend', { method: 'POST', body, headers: { 'content-type': 'application/json' }, ...(signal && { signal }) })

/** Events of a stream, as they stand in it. */
function events(text: string): { event: string; data: unknown }[] {
  return text.trim().split('\n\n').map((block) => {
    const [, event, data] = /^event: (\w+)\ndata: (.*)$/s.exec(block) ?? []
    return { event, data: JSON.parse(data) as unknown }
  })
}

describe('a search on the server', () => {
  it('tells its progress and gives the answer that this thread gives', async () => {
    const said = events(await (await ask(JSON.stringify(plan))).text())
    const load = new Load(plan)
    const alone = driveHere(recommend(plan, load), load)
    expect(said.filter((e) => e.event === 'progress').length).toBeGreaterThan(3)
    expect(said.at(-1)?.event).toBe('answer')
    // The plan was read there, which puts its fields in order; every figure is the same to the last digit.
    expect(said.at(-1)?.data).toEqual(JSON.parse(JSON.stringify(alone)))
  })

  it.each([
    ['{', 422, 'This is not a plan file'], [JSON.stringify({ ...plan, seed: -1 }), 422, 'seed'],
    [JSON.stringify({ ...skerrySound, classes: skerrySound.classes.map((c) => ({ ...c, arrivals: { kind: 'log' } })) }), 422, 'request log'],
    [' '.repeat(20_000_001), 413, 'larger than 20 MB'],
  ])('refuses what is no plan with a sentence', async (body, status, words) => {
    const answer = await ask(body)
    expect(answer.status).toBe(status)
    expect(await answer.text()).toContain(words)
  })

  it('is not started by a page of another origin', async () => {
    const answer = await searches(1, worker).request('/recommend', { method: 'POST', body: JSON.stringify(plan), headers: { 'content-type': 'text/plain' } })
    expect(answer.status).toBe(415)
  })

  it('ends when nobody listens any more, and makes room for the next; a third at once is refused', async () => {
    const api = searches(2, worker)
    const long = JSON.stringify({ ...skerrySound, repetitions: 8 })
    const readers = await Promise.all([0, 1].map(async () => (await ask(long, undefined, api)).body!.getReader()))
    await Promise.all(readers.map((r) => r.read()))
    expect((await ask(long, undefined, api)).status).toBe(429)
    await Promise.all(readers.map((r) => r.cancel()))
    await expect.poll(async () => {
      const next = await ask(JSON.stringify(plan), undefined, api)
      await next.text()
      return next.status
    }).toBe(200)
  })
})
