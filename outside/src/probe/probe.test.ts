import { createServer, type Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import { setTimeout } from 'node:timers/promises'
import { readFileSync } from 'node:fs'
import { configured, checkPlan, emptyRequests, readHowToAsk, run, type HowToAsk, type Plan, type ProbeShape } from '@sandclock/core'
import { afterEach, describe, expect, it } from 'vitest'
import { serveStandIn, type ServedStandIn } from '../standIn/serveStandIn.ts'
import { histogramOf } from './histogram.ts'
import { runProbe, type ProbeOrder } from './probe.ts'

const plan = checkPlan(JSON.parse(readFileSync('examples/one-configuration.json', 'utf8')) as Plan)
const ready = configured(plan, plan.services[0], plan.services[0].configuration!)
if (!ready.ok) throw new Error('the example can be had')
const { spec } = ready

const open: { stop: () => Promise<unknown> }[] = []
afterEach(async () => {
  await Promise.all(open.splice(0).map((o) => o.stop()))
})
async function standIn(speed = 20, failShare = 0): Promise<ServedStandIn> {
  const served = await serveStandIn({ plan, spec, speed, failShare }, { input: 100, output: 4 }, 0)
  open.push(served)
  return served
}
/** A server of a few lines, for what a stand-in does not do. */
async function server(handle: Parameters<typeof createServer>[1]): Promise<string> {
  const made: Server = createServer(handle).listen(0, '127.0.0.1')
  await new Promise((resolve) => made.once('listening', resolve))
  open.push({
    stop: () => {
      made.closeAllConnections()
      return new Promise((resolve) => made.close(resolve))
    },
  })
  return `http://127.0.0.1:${(made.address() as AddressInfo).port}`
}

const how = (url: string, more: string): HowToAsk => readHowToAsk(`format: sand-clock-how-to-ask\nversion: 1\nurl: ${url}\n${more}`)
const one: ProbeShape = { kind: 'one', sizes: [{ input: 50, output: 6 }], warmUp: 0, seed: 1 }
const bounds = { requests: 1000, seconds: 600, money: Infinity }
const probe = (asked: HowToAsk, shape: ProbeShape = one, more: Partial<ProbeOrder> = {}, told = new AbortController()) =>
  runProbe({ how: asked, shape, bounds, allowed: [], environment: {}, ...more }, told.signal)

describe('a probe of a stand-in', () => {
  it.each([
    ['chat', '/v1/chat/completions', 5],
    ['inference', '/v2/models/any/infer', 0],
    ['inference-stream', '/v2/models/any/generate_stream', 5],
    ['plain', '/answer', 0],
  ])('reads an answer as %s: its tokens, and when they came', async (as, path, gaps) => {
    const { url } = await standIn()
    const { rows, parts, cutShort } = await probe(how(`${url}${path}`, `as: ${as}`))
    expect(rows).toMatchObject([{ outcome: 'finished', status: 200, input: 50, output: 6, atOnce: 1, part: 'one call' }])
    expect(rows[0].gaps).toHaveLength(gaps)
    expect(rows[0].due).toBeLessThanOrEqual(rows[0].sent)
    expect(rows[0].sent).toBeLessThan(rows[0].firstToken)
    expect(rows[0].firstToken).toBeLessThanOrEqual(rows[0].end)
    expect(parts).toMatchObject([{ requests: 1, outcomes: { finished: 1 } }])
    expect(cutShort).toBeUndefined()
  })

  it('is asked as the example says that says everything', async () => {
    const { url } = await standIn()
    const text = readFileSync('examples/ask/every-field.yaml', 'utf8').replace('http://127.0.0.1:8080', url)
    const from = performance.now()
    const { rows, spent } = await probe(readHowToAsk(text))
    expect(rows).toMatchObject([{ outcome: 'finished', status: 200, input: 50, output: 6, gaps: { length: 5 } }])
    // What the request costs, and the time that the machine was there for it.
    const ofTime = spent! - (0.0001 + 50 * 0.0000005 + 6 * 0.000002)
    expect(ofTime).toBeGreaterThan((1.9 * rows[0].end) / 3600)
    expect(ofTime).toBeLessThan((1.9 * (performance.now() - from)) / 1000 / 3600)
  })

  it('sees the first token and the gaps that its engine has, never before', async () => {
    const { url } = await standIn(1)
    const asked = how(`${url}/v1/chat/completions`, 'as: chat')
    const shape: ProbeShape = { ...one, kind: 'one-after-another', requests: 4, sizes: [{ input: 200, output: 20 }] }
    const { rows } = await probe(asked, shape)
    const requests = emptyRequests(1)
    requests.input[0] = 200
    requests.output[0] = 20
    const alone = run(plan, spec, requests, { toTheEnd: true }).record
    // The clock of a machine that does other things besides is only ever late: none is too soon, and the soonest is near.
    for (const [at, engine] of [
      ['firstToken', alone.firstToken[0]],
      ['end', alone.end[0]],
    ] as const) {
      const took = rows.map((r) => r[at] - r.sent)
      expect(Math.min(...took)).toBeGreaterThanOrEqual(engine)
      expect(Math.min(...took)).toBeLessThan(engine + 0.1)
    }
  })

  it('has so many at once as its load says, and due times that are those of the load', async () => {
    const { url } = await standIn()
    const asked = how(`${url}/answer`, 'as: plain')
    const crowd = await probe(asked, { ...one, kind: 'at-once', clients: [1, 8], requestsEach: 3, warmUp: 2 })
    expect(crowd.parts.map((p) => [p.part, p.requests, p.warmUp])).toEqual([
      ['warm-up', 2, true],
      ['1 at once', 3, false],
      ['8 at once', 24, false],
    ])
    expect(Math.max(...crowd.rows.filter((r) => r.part === '1 at once').map((r) => r.atOnce))).toBe(1)
    expect(Math.max(...crowd.rows.filter((r) => r.part === '8 at once').map((r) => r.atOnce))).toBe(8)
    const at = Float64Array.of(0, 0.05, 0.05, 0.2)
    const log = await probe(asked, { ...one, kind: 'log', at, asking: Array.from(at, (_, i) => ({ input: 10 + i, output: 2 })) })
    const inOrder = [...log.rows].sort((a, b) => a.number - b.number)
    inOrder.forEach((r, i) => expect(r.due - inOrder[0].due).toBeCloseTo(at[i], 9))
    expect(inOrder.map((r) => r.input)).toEqual([10, 11, 12, 13])
    for (const r of log.rows) expect(r.sent).toBeGreaterThanOrEqual(r.due)
  })

  it('is bounded by requests, money and time, and keeps what there is when it is told to stop', async () => {
    const { url } = await standIn()
    const priced = how(`${url}/answer`, 'as: plain\nprice: { perRequest: 0.5, perOutputToken: 0.25, currency: EUR }')
    const many: ProbeShape = { ...one, kind: 'one-after-another', requests: 50 }
    expect(await probe(priced, many, { bounds: { ...bounds, requests: 3 } })).toMatchObject({
      cutShort: 'requests',
      rows: { length: 3 },
      spent: 6,
    })
    // 2 EUR a request: the fifth would be beyond.
    expect(await probe(priced, many, { bounds: { ...bounds, money: 9 } })).toMatchObject({
      cutShort: 'money',
      rows: { length: 4 },
      spent: 8,
    })
    // 1 EUR a second, while it waits as well.
    const rented = how(`${url}/answer`, 'as: plain\nprice: { perHour: 3600, currency: EUR }')
    const waiting: ProbeShape = { ...one, kind: 'after-idle', idleSeconds: 60, times: 1, warmUp: 1 }
    const waited = await probe(rented, waiting, { bounds: { ...bounds, money: 0.4 } })
    expect(waited).toMatchObject({ cutShort: 'money', rows: { length: 1 } })
    expect(waited.spent).toBeGreaterThanOrEqual(0.4)
    expect(waited.spent).toBeLessThan(50)
    const slow = await standIn(0.05)
    const asked = how(`${slow.url}/answer`, 'as: plain')
    const over = await probe(asked, many, { bounds: { ...bounds, seconds: 0.2 } })
    expect(over).toMatchObject({ cutShort: 'seconds', rows: [{ outcome: 'stopped' }] })
    const told = new AbortController()
    const stopped = probe(asked, many, {}, told)
    await setTimeout(50)
    told.abort()
    expect(await stopped).toMatchObject({ cutShort: 'told', rows: [{ outcome: 'stopped', status: expect.any(Number) as number }] })
  })

  it('counts what fails there as an outcome', async () => {
    const { url } = await standIn(20, 1)
    expect((await probe(how(`${url}/answer`, 'as: plain'))).rows).toMatchObject([{ outcome: 'rejected', status: 500 }])
    expect((await probe(how(`${url}/v1/chat/completions`, 'as: chat'))).rows).toMatchObject([{ outcome: 'failed', status: 200 }])
    expect((await probe(how(`${url}/nothing`, 'as: plain'))).rows).toMatchObject([{ outcome: 'rejected', status: 404 }])
  })
})

describe('what an endpoint may do', () => {
  const chunk = (text: string) => `data: ${JSON.stringify({ choices: [{ delta: { content: text } }] })}\n\n`
  const asked = (url: string, more = '') => how(url, `as: chat\ntimeoutSeconds: 0.3\n${more}`)

  it('is an outcome, whatever it is', async () => {
    const url = await server((request, response) => {
      request.resume()
      if (request.url === '/never') return
      if (request.url === '/busy') return void response.writeHead(429, { 'retry-after': '1' }).end('come again')
      if (request.url === '/torn') return void response.writeHead(200).write(chunk('a'), () => request.socket.destroy())
      if (request.url === '/short') return void response.end(chunk('a'))
      if (request.url === '/html') return void response.end('data: <html>\n\ndata: [DONE]\n\n')
      if (request.url === '/empty') return void response.end('data: [DONE]\n\n')
      response.end('data: {"error":{"message":"no memory"}}\n\ndata: [DONE]\n\n')
    })
    const outcome = async (path: string) => (await probe(asked(`${url}${path}`))).rows[0]
    expect(await outcome('/never')).toMatchObject({ outcome: 'timed-out', status: 0, why: 'not whole after 0.3 s' })
    expect(await outcome('/busy')).toMatchObject({ outcome: 'rejected', status: 429, why: 'come again' })
    expect(await outcome('/torn')).toMatchObject({ outcome: 'failed', status: 200, output: 1 })
    expect(await outcome('/short')).toMatchObject({ outcome: 'failed', why: 'it broke off before its end' })
    expect(await outcome('/html')).toMatchObject({ outcome: 'wrong', why: 'no JSON: <html>' })
    expect(await outcome('/empty')).toMatchObject({ outcome: 'wrong', why: 'no text at /choices/0/delta/content' })
    expect(await outcome('/error')).toMatchObject({ outcome: 'failed', why: '{"message":"no memory"}' })
    expect((await probe(asked('http://127.0.0.1:9/'))).rows).toMatchObject([{ outcome: 'unreachable', status: 0 }])
  })

  it('reads lines, pieces that are cut anywhere, and usage; says the secret to nobody but the endpoint', async () => {
    let heard = ''
    const url = await server((request, response) => {
      heard = request.headers.authorization ?? ''
      request.resume()
      const bytes = Buffer.from('{"t":"Möwe"}\n{"t":" fliegt"}\n\n{"n":7,"over":true}')
      for (let i = 0; i < bytes.length; i += 3) response.write(bytes.subarray(i, i + 3))
      response.end()
    })
    const lines = `body: {}\nheaders: { authorization: "Key \${K}" }\nanswer: { comes: lines, text: /t, tokens: usage, outputTokens: /n, end: { at: /over, is: true } }`
    const record = await probe(how(url, lines), one, { environment: { K: 'known to few' } })
    expect(record.rows).toMatchObject([{ outcome: 'finished', output: 7 }])
    expect(record.rows[0].gaps).toHaveLength(1)
    expect(heard).toBe('Key known to few')
    expect(JSON.stringify(record)).not.toContain('known to few')
    await expect(probe(how(url, lines))).rejects.toThrow(/names K, which the environment does not have/)
  })

  it('is asked only on this machine, or where it was named', async () => {
    await expect(probe(how('http://elsewhere.invalid/x', 'as: plain'))).rejects.toThrow(
      /names another machine than this one; say --allow-host elsewhere.invalid/,
    )
    const { rows } = await probe(how('http://elsewhere.invalid/x', 'as: plain'), one, { allowed: ['elsewhere.invalid'] })
    expect(rows).toMatchObject([{ outcome: 'unreachable' }])
  })

  it('redirects nobody to where it was not allowed', async () => {
    const url = await server((_, response) => void response.writeHead(307, { location: 'http://elsewhere.invalid/' }).end())
    expect((await probe(how(url, 'as: plain'))).rows).toMatchObject([{ outcome: 'rejected', status: 307 }])
  })
})

describe('a histogram', () => {
  it('has every time in a bin of three digits, and no time twice', () => {
    const times = Array.from({ length: 500 }, (_, i) => 1e-6 * 1.05 ** i * 20)
    const bins = histogramOf([...times, NaN])
    expect(bins.reduce((sum, b) => sum + b.count, 0)).toBe(500)
    for (const t of times.filter((t) => t < 80_000)) {
      const bin = bins.find((b) => b.fromSeconds <= t + 5e-7 && t - 5e-7 < b.untilSeconds)
      expect(bin).toBeDefined()
      expect(bin!.untilSeconds - bin!.fromSeconds).toBeLessThanOrEqual(Math.max(1.01e-6, t / 1000))
    }
    expect(bins.every((b, i) => i === 0 || b.fromSeconds >= bins[i - 1].untilSeconds)).toBe(true)
  })
})
