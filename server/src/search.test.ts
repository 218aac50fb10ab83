import { driveHere, Load, recommend } from '@sandclock/core'
import { mkdtempSync, rmSync } from 'node:fs'
import { resolve } from 'node:path'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { skerrySound } from '../../examples/make/skerrySound.ts'
import { smallPlan } from '../../core/test/smallPlan.ts'
import { RandomStream } from '../../core/src/random/stream.ts'
import { events } from '../test/events.ts'
import { bundled } from '../../threads/test/bundled.ts'
import { searches } from './search.ts'
import { LIMITS } from './searchJobs.ts'

const plan = smallPlan(new RandomStream(11, 'crew'), 11)
const folder = mkdtempSync(resolve('threads', 'dist-test-'))
let worker: URL

beforeAll(async () => {
  worker = await bundled(folder, 'worker', 'threads/src/trialWorker.ts')
})
afterAll(() => rmSync(folder, { recursive: true }))

const HEADERS = { 'content-type': 'application/json' }
const ask = (body: string, api = searches(2, worker)) => api.request('/searches', { method: 'POST', body, headers: HEADERS })
async function begun(body: string, api: ReturnType<typeof searches>): Promise<string> {
  return ((await (await ask(body, api)).json()) as { id: string }).id
}

describe('a search on the server', () => {
  it('tells its progress and gives the answer that this thread gives; who asks again has it at once', async () => {
    const api = searches(2, worker)
    const id = await begun(JSON.stringify(plan), api)
    const said = events(await (await api.request(`/searches/${id}`)).text())
    const load = new Load(plan)
    const alone = driveHere(recommend(plan, load), load)
    expect(said.filter((e) => e.event === 'progress').length).toBeGreaterThan(3)
    expect(said.at(-1)?.event).toBe('answer')
    // The plan was read there, which puts its fields in order; every figure is the same to the last digit.
    expect(said.at(-1)?.data).toEqual(JSON.parse(JSON.stringify(alone)))
    expect(await begun(JSON.stringify(plan), api)).toBe(id)
    const again = events(await (await api.request(`/searches/${id}`)).text())
    expect(again).toEqual([said.at(-1)])
  })

  it.each([
    ['{', 422, 'This is not a plan file'],
    [JSON.stringify({ ...plan, seed: -1 }), 422, 'seed'],
    [
      JSON.stringify({ ...skerrySound, classes: skerrySound.classes.map((c) => ({ ...c, arrivals: { kind: 'log' } })) }),
      422,
      'request log',
    ],
    [' '.repeat(20_000_001), 413, 'larger than 20 MB'],
  ])('refuses what is no plan with a sentence', async (body, status, words) => {
    const answer = await ask(body)
    expect(answer.status).toBe(status)
    expect(await answer.text()).toContain(words)
  })

  it('is not started by a page of another origin', async () => {
    const answer = await searches(1, worker).request('/searches', {
      method: 'POST',
      body: JSON.stringify(plan),
      headers: { 'content-type': 'text/plain' },
    })
    expect(answer.status).toBe(415)
  })

  const long = (seed: number) => JSON.stringify({ ...skerrySound, seed, repetitions: 8 })

  it('goes on while the page is loaded anew, ends when nobody comes back, and makes room; a third at once is refused', async () => {
    const api = searches(2, worker, { ...LIMITS, unheardSeconds: 0.5 })
    const ids = await Promise.all([begun(long(1), api), begun(long(2), api)])
    expect((await ask(long(3), api)).status).toBe(429)
    expect(await (await api.request('/searches')).json()).toEqual({ threads: 2, room: 0 })
    const reader = (await api.request(`/searches/${ids[0]}`)).body!.getReader()
    await reader.read()
    await reader.cancel()
    // Back before the time is over: the search is the same, and says first what it said last.
    expect(await begun(long(1), api)).toBe(ids[0])
    const back = (await api.request(`/searches/${ids[0]}`)).body!.getReader()
    expect(new TextDecoder().decode((await back.read()).value)).toContain('event: progress')
    // Nobody listened to the second.
    await expect.poll(async () => ((await (await api.request('/searches')).json()) as { room: number }).room, { timeout: 5000 }).toBe(1)
    await back.cancel()
    await expect.poll(async () => ((await (await api.request('/searches')).json()) as { room: number }).room, { timeout: 5000 }).toBe(2)
  })

  it('is stopped when it is asked to, and after the time that the server gives it, with a sentence', async () => {
    const api = searches(2, worker, { ...LIMITS, seconds: 1.2 })
    const id = await begun(long(4), api)
    const told = api.request(`/searches/${id}`)
    expect((await api.request(`/searches/${id}`, { method: 'DELETE' })).status).toBe(204)
    expect(events(await (await told).text()).at(-1)).toEqual({ event: 'failure', data: { message: 'The search was stopped.' } })
    expect((await api.request(`/searches/${id}`)).status).toBe(404)
    const slow = await begun(long(5), api)
    expect(await (await api.request(`/searches/${slow}`)).text()).toContain('The search took longer than the')
  })
})
