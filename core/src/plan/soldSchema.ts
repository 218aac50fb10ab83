import * as z from 'zod'
import { count, name, nonNegative, positive } from './primitives.ts'

const TimesSchema = z
  .strictObject({
    seconds: positive.describe('half of them take no longer'),
    p95Seconds: positive.optional().describe('95 of 100 take no longer, lognormal; all alike if left out'),
  })
  .refine((t) => t.p95Seconds === undefined || t.p95Seconds >= t.seconds, { path: ['p95Seconds'], error: 'must be at least the median' })

/** Requests side by side where an offer states no limit of them. */
export const MOST_SIDE_BY_SIDE = 100_000

/**
 * A service that is sold by tokens: nothing is rented, and nothing is known of what stands behind it but what it serves, how long
 * that takes and what it costs.
 */
export const SoldSchema = z.strictObject({
  name,
  provider: name,
  region: name,
  zone: name.optional(),
  trust: z.int().min(0).max(99).optional().describe('how far its host is to be trusted, on the scale of the machines; 0 if left out'),
  model: name.describe('the model of the plan that it serves'),
  variant: name.describe('and which of its variants, for its quality and licence'),
  pricePerMillionInput: nonNegative.describe('a million prompt tokens'),
  pricePerMillionCachedInput: nonNegative
    .optional()
    .describe('those of them that are in its cache already, by the cachedShare of a class; like the others if left out'),
  pricePerMillionOutput: nonNegative.describe('a million answer tokens'),
  pricePerRequest: nonNegative.optional().describe('and each request; nothing if left out'),
  firstToken: TimesSchema.describe('from the request to the first token, as stated or measured'),
  secondsPerInputToken: nonNegative.optional().describe('and for each prompt token that is not in its cache; nothing if left out'),
  eachToken: TimesSchema.describe('each further token, the mean of an answer'),
  contextTokens: count.optional().describe('longest prompt and answer that it takes; what the model takes if left out'),
  concurrency: count
    .max(MOST_SIDE_BY_SIDE)
    .optional()
    .describe(`requests side by side; more wait in a queue of your own; ${MOST_SIDE_BY_SIDE} if left out`),
  limits: z
    .strictObject({
      requestsPerMinute: positive.optional(),
      tokensPerMinute: positive.optional().describe('prompt and answer tokens together'),
      inputTokensPerMinute: positive.optional(),
      outputTokensPerMinute: positive.optional(),
    })
    .optional()
    .describe(
      'of each service of the plan, which has a key of its own; each holds what a minute brings, and who finds too little is refused',
    ),
  oneKey: z.boolean().optional().describe('true: there is one key, so that only one service of the plan may use it'),
})

export type Sold = z.infer<typeof SoldSchema>

/** Requests that it takes side by side. */
export const sideBySideOf = ({ concurrency = MOST_SIDE_BY_SIDE }: Sold): number => concurrency
