import { configured, readPlan, type StatedOrder, type StatedShape } from '@sandclock/core'
import { serveStandIn, type ServedStandIn } from '@sandclock/outside'
import { readFileSync } from 'node:fs'
import { afterEach, describe, expect, it } from 'vitest'
import { events } from '../test/events.ts'
import { readOptions } from './options.ts'
import { PROBE_LIMITS } from './probeJobs.ts'
import { probes } from './probes.ts'

const plan = readPlan(readFileSync('examples/one-configuration.json', 'utf8'))
const ready = configured(plan, plan.services[0], plan.services[0].configuration!)
if (!ready.ok) throw new Error('the example can be had')
const { spec } = ready

const open: ServedStandIn[] = []
afterEach(async () => {
  await Promise.all(open.splice(0).map((o) => o.stop()))
})
async function standIn(speed = 20): Promise<string> {
  const served = await serveStandIn({ plan, spec, speed, failShare: 0 }, { input: 100, output: 4 }, 0)
  open.push(served)
  return `${served.url}/v1/chat/completions`
}

const HEADERS = { 'content-type': 'application/json' }
const shape: StatedShape = { kind: 'one-after-another', requests: 5, sizes: [{ input: 50, output: 6 }], warmUp: 0 }
const order = (url: string, more: Partial<StatedOrder> = {}): string =>
  JSON.stringify({ how: `format: sand-clock-how-to-ask\nversion: 1\nurl: ${url}\nas: chat\n`, shape, ...more } satisfies StatedOrder)
const ask = (body: string, api = probes([], {}), headers: Record<string, string> = HEADERS) =>
  api.request('/probes', { method: 'POST', body, headers })
const idOf = async (answer: Response) => ((await answer.json()) as { id: string }).id

describe('a measurement on the server', () => {
  it('tells requests as they end, and its end; who comes back hears all of it again', async () => {
    const api = probes([], {})
    const id = await idOf(await ask(order(await standIn()), api))
    const said = events(await (await api.request(`/probes/${id}`)).text())
    const rows = said.filter((e) => e.event === 'rows').flatMap((e) => e.data as object[])
    expect(rows).toHaveLength(5)
    expect(rows[0]).toMatchObject({ outcome: 'finished', input: 50, output: 6, part: 'one after another', gaps: { length: 5 } })
    expect(said.at(-1)).toEqual({ event: 'end', data: {} })
    const again = events(await (await api.request(`/probes/${id}`)).text())
    expect(again).toEqual([{ event: 'rows', data: rows }, said.at(-1)])
  })

  it('sends the requests of a log at their own times', async () => {
    const api = probes([], {})
    const log: StatedShape = {
      kind: 'log',
      at: [0, 0.2, 0.5],
      asking: [
        { input: 40, output: 5 },
        { input: 30, output: 4 },
        { input: 20, output: 3 },
      ],
      sizes: [{ input: 9, output: 2 }],
      warmUp: 0,
    }
    const id = await idOf(await ask(order(await standIn(), { shape: log }), api))
    const said = events(await (await api.request(`/probes/${id}`)).text())
    const rows = said
      .filter((e) => e.event === 'rows')
      .flatMap((e) => e.data as { number: number; due: number; input: number; output: number }[])
    rows.sort((a, b) => a.number - b.number)
    expect(rows.map((r) => [r.input, r.output])).toEqual(log.asking.map((a) => [a.input, a.output]))
    rows.forEach((r, i) => expect(r.due - rows[0].due).toBeCloseTo(log.at[i], 6))
  })

  it('is stopped when it is told to, and keeps what there is; only one goes on at a time', async () => {
    const api = probes([], {})
    const url = await standIn(1)
    const long = order(url, { shape: { ...shape, requests: 1000 } as StatedShape })
    const id = await idOf(await ask(long, api))
    expect((await ask(long, api)).status).toBe(409)
    const reader = (await api.request(`/probes/${id}`)).body!.getReader()
    let heard = ''
    while (!heard.includes('"outcome":"finished"')) heard += new TextDecoder().decode((await reader.read()).value)
    expect((await api.request(`/probes/${id}`, { method: 'DELETE' })).status).toBe(204)
    while (!heard.includes('event: end')) heard += new TextDecoder().decode((await reader.read()).value)
    expect(events(heard).at(-1)).toEqual({ event: 'end', data: { cutShort: 'told' } })
    expect((await ask(long, api)).status).toBe(201)
  })

  it('is stopped when nobody listens any more', async () => {
    const api = probes([], {}, { ...PROBE_LIMITS, unheardSeconds: 0.2 })
    const url = await standIn(1)
    const id = await idOf(await ask(order(url, { shape: { ...shape, requests: 1000 } as StatedShape }), api))
    await expect.poll(async () => (await ask(order(url), api)).status, { timeout: 5000, interval: 100 }).toBe(201)
    expect((await api.request(`/probes/${id}`)).status).toBe(404)
  })

  it.each([
    ['{', 422, 'This can not be measured.'],
    [order('http://127.0.0.1:1/', { bounds: { money: 3 } }), 422, 'can not be kept'],
    [order('http://127.0.0.1:1/', { bounds: { requests: 200_000 } }), 422, 'at most 100000 requests'],
    [order('nowhere'), 422, 'url'],
    [order('http://127.0.0.1:1/', { shape: { ...shape, requests: 0 } as StatedShape }), 422, 'shape.requests is 0'],
  ])('is refused with a sentence: %s', async (body, status, words) => {
    const answer = await ask(body)
    expect(answer.status).toBe(status)
    expect(await answer.text()).toContain(words)
  })

  it('is not begun by a page of another origin', async () => {
    expect((await ask(order('http://127.0.0.1:1/'), probes([], {}), { 'content-type': 'text/plain' })).status).toBe(415)
  })

  it.each([
    ['http://elsewhere.invalid/', '', 'say --allow-host elsewhere.invalid'],
    ['http://127.0.0.1:1/', 'headers: { authorization: "Bearer ${KEY}" }\n', '--secret KEY'],
  ])('asks no machine, and says no secret, that it was not started for: %s %s', async (url, more, words) => {
    process.env.KEY = 's3cret'
    const api = probes([], {})
    const how = `format: sand-clock-how-to-ask\nversion: 1\nurl: ${url}\nas: chat\n${more}`
    const id = await idOf(await ask(JSON.stringify({ how, shape }), api))
    const said = await (await api.request(`/probes/${id}`)).text()
    expect(events(said).at(-1)).toMatchObject({ event: 'failure' })
    expect(said).toContain(words)
    expect(said).not.toContain('s3cret')
    delete process.env.KEY
    expect(readOptions(['--secret', 'KEY', '--secret', 'B']).secrets).toEqual(['KEY', 'B'])
  })
})
