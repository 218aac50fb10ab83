import { serve } from '@hono/node-server'
import { Hono } from 'hono'
import { streamSSE } from 'hono/streaming'
import type { AddressInfo } from 'node:net'
import { Batching } from './batching.ts'
import { Network, SHAPE } from './network.ts'

/** Sequences side by side. */
const MOST = 16
/** Letters of a token, as everywhere here. */
const LETTERS = 4

const batching = new Batching(await Network.made(7), MOST)

/** A prompt as tokens of a vocabulary that nobody learned: so many letters each. */
function tokensOf(prompt: string): number[] {
  return Array.from({ length: Math.max(1, Math.ceil(prompt.length / LETTERS)) }, (_, i) => {
    let token = 0
    for (const letter of prompt.slice(i * LETTERS, (i + 1) * LETTERS)) token = (token * 31 + letter.charCodeAt(0)) % SHAPE.vocabulary
    return token
  })
}

const app = new Hono()
app.post('/v1/chat/completions', async (c) => {
  const asked = await c.req.json<{ messages: { content: string }[]; max_tokens: number }>()
  const prompt = tokensOf(asked.messages.map((m) => m.content).join('\n'))
  return streamSSE(c, async (stream) => {
    const told: Promise<unknown>[] = []
    const say = (data: object | string) => told.push(stream.writeSSE({ data: typeof data === 'string' ? data : JSON.stringify(data) }))
    await batching.ask(prompt, asked.max_tokens, (token) => say({ choices: [{ index: 0, delta: { content: ` ${token}` } }] }))
    say({ choices: [], usage: { prompt_tokens: prompt.length, completion_tokens: asked.max_tokens } })
    say('[DONE]')
    await Promise.all(told)
  })
})
serve({ fetch: app.fetch, hostname: '127.0.0.1', port: Number(process.argv[2] ?? 0) }, ({ port }: AddressInfo) =>
  console.log(`A network with random weights is at http://127.0.0.1:${port}/v1/chat/completions`),
)
