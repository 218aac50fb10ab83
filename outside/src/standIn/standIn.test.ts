import { checkPlan, configured, emptyRequests, Outcome, run, type Plan, type RunSpec, type Service } from '@sandclock/core'
import { readFileSync } from 'node:fs'
import { caller, sleeper } from '../../../core/test/sleeper.ts'
import { afterEach, describe, expect, it } from 'vitest'
import { RealTime } from './realTime.ts'
import { serveStandIn, type ServedStandIn } from './serveStandIn.ts'

const example = JSON.parse(readFileSync('examples/one-configuration.json', 'utf8')) as Plan
const [service] = example.services

/** The example, with one caller after the other as they like, and something changed. */
function planWith(change: Partial<Service> = {}, ofClass: object = {}): { plan: Plan; spec: RunSpec } {
  const plan = checkPlan({ ...example, classes: example.classes.map((c) => ({ ...c, ...ofClass })), services: [{ ...service, ...change }] })
  const [mine] = plan.services
  const ready = configured(plan, mine, mine.configuration!)
  if (!ready.ok) throw new Error('the example can be had')
  return { plan, spec: ready.spec }
}

describe('a stand-in by the real clock', () => {
  it('tells every token when the engine has it, never before, and is the engine’s run of the same arrivals', async () => {
    const { plan, spec } = planWith({}, { patienceSeconds: undefined, retries: undefined })
    const time = new RealTime(plan, spec, 1, 5000)
    const late: number[] = []
    const within = () => late.filter((s) => s < 0.002).length
    let [asked, over] = [0, 0]
    // It goes on until enough were seen in time, whatever else this machine does meanwhile.
    while (within() < 300 && asked < 2000) {
      for (let i = 0; i < 3; i++, asked++)
        time.ask(0, 100 + (asked % 7) * 50, 5 + (asked % 11), {
          tokens: (_, seconds) => late.push(time.now() - seconds),
          ended: () => over++,
        })
      await new Promise((resolve) => setTimeout(resolve, 20))
    }
    while (over < asked) await new Promise((resolve) => setTimeout(resolve, 20))
    time.stop()
    expect(within()).toBeGreaterThanOrEqual(300)
    expect(Math.min(...late)).toBeGreaterThanOrEqual(0)

    const { record } = time.run
    const requests = emptyRequests(asked)
    for (let i = 0; i < asked; i++) {
      requests.at[i] = record.at[i]
      requests.input[i] = record.requests.input[i]
      requests.output[i] = record.requests.output[i]
    }
    const engine = run(plan, spec, requests, { toTheEnd: true }).record
    for (let i = 0; i < asked; i++) {
      expect(engine.outcome[i]).toBe(Outcome.finished)
      expect(Math.abs(engine.firstToken[i] - record.firstToken[i])).toBeLessThan(1e-6)
      expect(Math.abs(engine.end[i] - record.end[i])).toBeLessThan(1e-6)
    }
  })
})

describe('a stand-in that is asked by HTTP', () => {
  let served: ServedStandIn | undefined
  afterEach(async () => {
    await served?.stop()
    served = undefined
  })
  const begin = async (made: { plan: Plan; spec: RunSpec }, more: { speed?: number; failShare?: number } = {}) => {
    served = await serveStandIn({ ...made, speed: 20, failShare: 0, ...more }, { input: 100, output: 4 }, 0)
    return served
  }
  const post = (path: string, body: unknown) =>
    fetch(`${served!.url}${path}`, { method: 'POST', body: typeof body === 'string' ? body : JSON.stringify(body) })
  const events = async (response: Response) =>
    (await response.text()).split('\n').flatMap((line) => (line.startsWith('data: ') ? [line.slice('data: '.length)] : []))

  it('answers whole and by server-sent events, with as many tokens as were asked for, in each of its ways', async () => {
    await begin(planWith())
    expect(await (await post('/answer', { input: 50, output: 6 })).json()).toMatchObject({ usage: { input: 50, output: 6 } })
    const plain = await events(await post('/answer', { output: 6, stream: true }))
    expect(plain).toHaveLength(7)
    expect(JSON.parse(plain[6])).toEqual({ done: true, usage: { input: 100, output: 6 } })
    const chat = { messages: [{ role: 'user', content: 'Where is berth four?' }], max_tokens: 3 }
    const chunks = await events(await post('/v1/chat/completions', { ...chat, stream: true }))
    expect(chunks).toHaveLength(6)
    expect(chunks.at(-1)).toBe('[DONE]')
    expect(JSON.parse(chunks[4])).toMatchObject({ usage: { prompt_tokens: 5, completion_tokens: 3 } })
    const { choices } = (await (await post('/v1/chat/completions', chat)).json()) as { choices: { message: { content: string } }[] }
    expect(choices[0].message.content.trim().split(' ')).toHaveLength(3)
    const asked = { inputs: [{ name: 'text', shape: [1], datatype: 'BYTES', data: ['Where?'] }], parameters: { max_tokens: 2 } }
    expect(await (await post('/v2/models/any/infer', asked)).json()).toMatchObject({ model_name: 'any', outputs: [{ datatype: 'BYTES' }] })
    expect(
      await events(await post('/v2/models/any/generate_stream', { text_input: 'Where?', parameters: { max_tokens: 4 } })),
    ).toHaveLength(4)
    const metrics = await (await fetch(`${served!.url}/metrics`)).text()
    expect(metrics).toMatch(/standin_requests_total\{service="talk"\} 6\n/)
    expect(metrics).toMatch(/# EOF\n$/)
    expect(await (await fetch(served!.url)).json()).toMatchObject({ format: 'sand-clock-stand-in', version: 1, arrived: 6, inService: 0 })
  })

  it('says what is wrong with a question, and what is not there', async () => {
    await begin(planWith())
    for (const [body, says] of [
      ['{', /This is no question: the body/],
      [{ input: 0 }, /This is no question: input/],
      [{ class: 'nobody' }, /no class “nobody” here; there are pilot desk/],
    ] as const) {
      const response = await post('/answer', body)
      expect(response.status).toBe(400)
      expect(await response.text()).toMatch(says)
    }
    expect((await fetch(`${served!.url}/nowhere`)).status).toBe(404)
  })

  it('refuses above its limits: too large, by rate, and where as many wait as may', async () => {
    await begin(planWith({}, { rateLimit: { unit: 'requests', perSecond: 0.001, burst: 2 } }))
    expect((await post('/answer', { input: 900_000 })).status).toBe(413)
    const statuses: number[] = []
    for (let i = 0; i < 3; i++) statuses.push((await post('/answer', {})).status)
    expect(statuses).toEqual([200, 200, 429])
    const response = await post('/answer', {})
    expect(response.headers.get('retry-after')).toBe('1')
    await served!.stop()
    const one = { ...service.configuration!, sequences: 1, replicas: 1 }
    await begin(planWith({ limits: { ...service.limits, queue: 1 }, configuration: one }), { speed: 1 })
    const many = await Promise.all(Array.from({ length: 4 }, () => post('/answer', { output: 40 })))
    expect(many.map((r) => r.status).sort()).toEqual([200, 200, 429, 429])
  })

  it('starts up for its first caller, goes to sleep again, and refuses while it sleeps where it is told to', async () => {
    const asleep = (firstCaller: 'hold' | 'refuse'): { plan: Plan; spec: RunSpec } => {
      const plan = sleeper([{ ...caller('first', 0) }], firstCaller)
      const [mine] = plan.services
      const ready = configured(plan, mine, mine.configuration!)
      if (!ready.ok) throw new Error('the sleeper can be had')
      return { plan, spec: ready.spec }
    }
    // 150 s of start-up and 1 s of service, 200 times as fast.
    await begin(asleep('hold'), { speed: 200 })
    expect((await fetch(`${served!.url}/v2/health/ready`)).status).toBe(503)
    expect((await post('/answer', { output: 1 })).status).toBe(200)
    const { record, state } = served!.standIn.time.run
    expect(record.start[0] - record.at[0]).toBeCloseTo(150, 6)
    expect(state.ready).toBe(1)
    expect((await fetch(`${served!.url}/v2/health/ready`)).status).toBe(200)
    // After 600 s without a call it sleeps.
    await expect.poll(() => served!.standIn.time.run.state.ready).toBe(0)
    await served!.stop()
    await begin(asleep('refuse'), { speed: 200 })
    const refused = await post('/answer', { output: 1 })
    expect(refused.status).toBe(503)
    expect(refused.headers.get('retry-after')).not.toBeNull()
    await expect.poll(async () => (await post('/answer', { output: 1 })).status).toBe(200)
  })

  it.each([20, 1e6])('fails a stated share in the middle of their answers, and is counted so, %d times as fast', async (speed) => {
    await begin(planWith(), { failShare: 1, speed })
    expect((await post('/answer', {})).status).toBe(500)
    const streamed = await (await post('/answer', { output: 10, stream: true })).text()
    expect(streamed).toMatch(/event: error\ndata: \{"error":"it fails/)
    expect(streamed.match(/"token"/g)).toHaveLength(5)
    expect(served!.standIn.tally).toMatchObject({ arrivals: 2, failed: 2, answered: 0 })
  })
})
