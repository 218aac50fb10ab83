import { Hono, type Context } from 'hono'
import { streamSSE, type SSEStreamingApi } from 'hono/streaming'
import * as z from 'zod'
import { capital, estimatedTokens } from '@sandclock/core'
import { metricsText } from './metricsText.ts'
import type { Ending, Question, StandIn } from './standIn.ts'

export const STAND_IN_FORMAT = 'sand-clock-stand-in'
export const STAND_IN_VERSION = 1

/** Largest number of tokens that one may ask for: more is a slip. */
const MOST_TOKENS = 1_000_000
const tokens = z.int().min(1).max(MOST_TOKENS)
const Plain = z.object({
  prompt: z.string().optional(),
  input: tokens.optional(),
  output: tokens.optional(),
  class: z.string().optional(),
  stream: z.boolean().optional(),
})
const Chat = z.object({
  messages: z.array(z.object({ role: z.string(), content: z.string() })).min(1),
  max_tokens: tokens.optional(),
  max_completion_tokens: tokens.optional(),
  stream: z.boolean().optional(),
})
const Infer = z.object({
  id: z.string().optional(),
  inputs: z
    .array(z.object({ name: z.string(), shape: z.array(z.int()), datatype: z.string(), data: z.array(z.unknown()).optional() }))
    .min(1),
  parameters: z.object({ max_tokens: tokens.optional() }).loose().optional(),
})
const Generate = z.object({ text_input: z.string(), parameters: z.object({ max_tokens: tokens.optional() }).loose().optional() })

/** Sizes of a request that does not say them. */
export interface Usual {
  input: number
  output: number
}

/** A token of an answer that means nothing. */
const WORDS = ['sand', 'runs', 'through', 'the', 'neck', 'and', 'falls']
const wordOf = (place: number) => `${WORDS[place % WORDS.length]} `
const whole = (count: number) => Array.from({ length: count }, (_, i) => wordOf(i)).join('')

/**
 * The stand-in by HTTP: as chat completions, by the open inference protocol of version 2, as plain JSON; whole, or by server-sent events.
 *
 * @param usual sizes of a request that does not say them
 */
export function standInApplication(standIn: StandIn, usual: Usual): Hono {
  const app = new Hono()
  app.get('/', (c) => c.json(stateOf(standIn)))
  app.get('/metrics', (c) =>
    c.text(metricsText(standIn), 200, { 'content-type': 'application/openmetrics-text; version=1.0.0; charset=utf-8' }),
  )
  app.get('/v2/health/live', (c) => c.body(null, 200))
  app.get('/v2/health/ready', (c) => c.body(null, standIn.time.run.state.ready > 0 ? 200 : 503))
  app.post('/answer', async (c) => {
    const read = Plain.safeParse(await bodyOf(c))
    if (!read.success) return badRequest(c, read.error)
    const { prompt, input, output = usual.output, stream } = read.data
    if (read.data.class !== undefined && !standIn.classes.includes(read.data.class))
      return c.json({ error: `There is no class “${read.data.class}” here; there are ${standIn.classes.join(', ')}.` }, 400)
    const question = { input: input ?? sizeOf(prompt, usual), output, className: read.data.class }
    const token = (i: number) => ({ data: JSON.stringify({ token: wordOf(i) }) })
    if (stream) return streamed(c, standIn, question, token, () => [{ data: JSON.stringify({ done: true, usage: usageOf(question) }) }])
    return answered(c, standIn, question, () => ({ text: whole(output), usage: usageOf(question) }))
  })
  app.post('/v1/chat/completions', async (c) => {
    const read = Chat.safeParse(await bodyOf(c))
    if (!read.success) return badRequest(c, read.error)
    const { messages, max_tokens, max_completion_tokens, stream } = read.data
    const question = {
      input: sizeOf(messages.map((m) => m.content).join('\n'), usual),
      output: max_completion_tokens ?? max_tokens ?? usual.output,
    }
    const chunk = (delta: object, reason: string | null) => ({
      data: JSON.stringify({ object: 'chat.completion.chunk', choices: [{ index: 0, delta, finish_reason: reason }] }),
    })
    const token = (i: number) => chunk({ content: wordOf(i) }, null)
    const last = () => [chunk({}, 'stop'), { data: JSON.stringify({ choices: [], usage: chatUsage(question) }) }, { data: '[DONE]' }]
    if (stream) return streamed(c, standIn, question, token, last)
    return answered(c, standIn, question, () => ({
      object: 'chat.completion',
      choices: [{ index: 0, message: { role: 'assistant', content: whole(question.output) }, finish_reason: 'stop' }],
      usage: chatUsage(question),
    }))
  })
  app.post('/v2/models/:model/infer', async (c) => {
    const read = Infer.safeParse(await bodyOf(c))
    if (!read.success) return badRequest(c, read.error)
    const { id, inputs, parameters } = read.data
    const texts = inputs.flatMap((i) => (i.data ?? []).filter((d) => typeof d === 'string'))
    const question = { input: sizeOf(texts.join('\n') || undefined, usual), output: parameters?.max_tokens ?? usual.output }
    return answered(c, standIn, question, () => ({
      ...(id !== undefined && { id }),
      model_name: c.req.param('model'),
      outputs: [{ name: 'text', shape: [1], datatype: 'BYTES', data: [whole(question.output)] }],
    }))
  })
  app.post('/v2/models/:model/generate_stream', async (c) => {
    const read = Generate.safeParse(await bodyOf(c))
    if (!read.success) return badRequest(c, read.error)
    const question = { input: sizeOf(read.data.text_input, usual), output: read.data.parameters?.max_tokens ?? usual.output }
    const model_name = c.req.param('model')
    return streamed(
      c,
      standIn,
      question,
      (i) => ({ data: JSON.stringify({ model_name, text_output: wordOf(i) }) }),
      () => [],
    )
  })
  app.notFound((c) => c.json({ error: 'There is nothing here; GET / says what is.' }, 404))
  return app
}

function stateOf(standIn: StandIn): object {
  const { ready, waiting, inService, arrived } = standIn.time.run.state
  return {
    format: STAND_IN_FORMAT,
    version: STAND_IN_VERSION,
    service: standIn.service,
    classes: standIn.classes,
    seconds: standIn.time.now(),
    ready,
    waiting,
    inService,
    arrived,
    ways: [
      'POST /answer',
      'POST /v1/chat/completions',
      'POST /v2/models/{model}/infer',
      'POST /v2/models/{model}/generate_stream',
      'GET /metrics',
    ],
  }
}

const sizeOf = (prompt: string | undefined, usual: Usual) => (prompt === undefined ? usual.input : Math.max(1, estimatedTokens(prompt)))
const usageOf = ({ input, output }: Question) => ({ input, output })
const chatUsage = ({ input, output }: Question) => ({ prompt_tokens: input, completion_tokens: output, total_tokens: input + output })

/** What a body has, whatever it is said to be; undefined where it is no JSON. */
async function bodyOf(c: Context): Promise<unknown> {
  try {
    return await c.req.json()
  } catch {
    return undefined
  }
}

function badRequest(c: Context, error: z.ZodError): Response {
  const what = error.issues.map((i) => `${i.path.join('.') || 'the body'}: ${i.message}`).join('; ')
  return c.json({ error: `This is no question: ${what}.` }, 400)
}

async function answered(c: Context, standIn: StandIn, question: Question, answer: () => object): Promise<Response> {
  const { ending, leave } = standIn.ask(question, () => undefined)
  c.req.raw.signal.addEventListener('abort', leave)
  const end = await ending
  return end.kind === 'refused' ? refusal(c, end) : c.json(answer())
}

function refusal(c: Context, { status, why, retryAfterSeconds }: Extract<Ending, { kind: 'refused' }>): Response {
  if (retryAfterSeconds !== undefined) c.header('retry-after', String(retryAfterSeconds))
  return c.json({ error: `${capital(why)}.` }, status)
}

interface Message {
  data: string
}

/** By server-sent events from the first token on; who is refused before it has a status of his own. */
async function streamed(
  c: Context,
  standIn: StandIn,
  question: Question,
  token: (place: number) => Message,
  last: () => Message[],
): Promise<Response> {
  const queue: Message[] = []
  let wake: () => void = () => undefined
  let [made, over] = [0, false]
  const { ending, leave } = standIn.ask(question, () => {
    queue.push(token(made++))
    wake()
  })
  const first = new Promise<void>((resolve) => (wake = resolve))
  const done = ending.then((end) => {
    over = true
    wake()
    return end
  })
  await Promise.race([first, done])
  if (made === 0) {
    const end = await done
    if (end.kind === 'refused') return refusal(c, end)
  }
  return streamSSE(c, async (stream: SSEStreamingApi) => {
    stream.onAbort(leave)
    for (;;) {
      for (let next = queue.shift(); next; next = queue.shift()) await stream.writeSSE(next)
      if (over && queue.length === 0) break
      await new Promise<void>((resolve) => {
        wake = resolve
        if (queue.length > 0 || over) resolve()
      })
    }
    const end = await done
    if (end.kind === 'refused') await stream.writeSSE({ event: 'error', data: JSON.stringify({ error: end.why }) })
    else for (const message of last()) await stream.writeSSE(message)
  })
}
