import * as z from 'zod'

const pointer = z
  .string()
  .regex(/^(\/([^~/]|~[01])*)*$/, 'must be a JSON Pointer (RFC 6901), such as /choices/0/delta/content')
  .describe('JSON Pointer (RFC 6901) into what comes')

export const AnswerSchema = z
  .strictObject({
    comes: z.enum(['events', 'lines', 'whole']).describe('server-sent events, a JSON object a line, or one JSON object'),
    text: pointer.optional().describe('where the text of an answer, or of a piece of it, is; what has none counts for no token'),
    end: z
      .union([z.string(), z.strictObject({ at: pointer, is: z.json().optional() })])
      .optional()
      .describe('what says that an answer is whole: the text of an event, or a place that is there (with a value); else its end'),
    failure: pointer.optional().describe('a place that is there only where an answer failed although it began well'),
    tokens: z
      .enum(['pieces', 'usage', 'words'])
      .describe('what counts as a token: each piece with text, what the usage says, or each word'),
    outputTokens: pointer.optional().describe('where the usage says how many tokens the answer has'),
    inputTokens: pointer.optional().describe('where the usage says how many tokens the prompt has'),
  })
  .describe('how an answer comes, and where what counts is in it')

export type HowAnswered = z.infer<typeof AnswerSchema>
