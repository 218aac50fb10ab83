import type * as z from 'zod'
import type { HowAnswered } from './answerForm.ts'

type JsonValue = z.infer<ReturnType<typeof z.json>>

/** Ways of asking that are open protocols, and a plain JSON one: what is sent, and where what counts is in the answer. */
export const WAYS_OF_ASKING = ['chat', 'inference', 'inference-stream', 'plain'] as const

export const READY_MADE: Record<(typeof WAYS_OF_ASKING)[number], { body: JsonValue; answer: HowAnswered }> = {
  /** chat completions over server-sent events */
  chat: {
    body: {
      messages: [{ role: 'user', content: '{prompt}' }],
      max_tokens: '{output}',
      stream: true,
      stream_options: { include_usage: true },
    },
    answer: {
      comes: 'events',
      text: '/choices/0/delta/content',
      end: '[DONE]',
      failure: '/error',
      tokens: 'pieces',
      outputTokens: '/usage/completion_tokens',
      inputTokens: '/usage/prompt_tokens',
    },
  },
  /** the open inference protocol, version 2, whole */
  inference: {
    body: { inputs: [{ name: 'text', shape: [1], datatype: 'BYTES', data: ['{prompt}'] }], parameters: { max_tokens: '{output}' } },
    answer: { comes: 'whole', text: '/outputs/0/data/0', failure: '/error', tokens: 'words' },
  },
  /** the same, streamed */
  'inference-stream': {
    body: { text_input: '{prompt}', parameters: { max_tokens: '{output}' } },
    answer: { comes: 'events', text: '/text_output', failure: '/error', tokens: 'pieces' },
  },
  /** plain JSON, whole */
  plain: {
    body: { prompt: '{prompt}', input: '{input}', output: '{output}' },
    answer: { comes: 'whole', text: '/text', tokens: 'usage', outputTokens: '/usage/output', inputTokens: '/usage/input' },
  },
}
