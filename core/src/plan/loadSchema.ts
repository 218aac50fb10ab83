import * as z from 'zod'
import { count, name, nonNegative, positive } from './primitives.ts'

/** A distribution of whole numbers: tokens of a prompt or an answer, work units of a request. */
export const SizeSchema = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('fixed'), value: count }),
  z
    .strictObject({
      kind: z.literal('lognormal'),
      median: positive,
      p95: positive.describe('the value that 95 of 100 requests do not exceed'),
      max: count.optional().describe('larger draws are cut to this value'),
    })
    .refine((s) => s.p95 >= s.median, { path: ['p95'], error: 'must be at least the median' }),
  z.strictObject({ kind: z.literal('exponential'), mean: positive }),
  z.strictObject({ kind: z.literal('empirical'), values: z.array(count).min(1).max(20_000).describe('each value is drawn equally often') }),
  z.strictObject({ kind: z.literal('log') }),
])

const SpikeSchema = z.strictObject({
  startSeconds: nonNegative.describe('seconds after the start of the horizon'),
  durationSeconds: positive,
  factor: positive.max(100).describe('multiplies the rate while it lasts'),
})

const EventSchema = z
  .strictObject({
    name: name.optional(),
    from: z.iso.datetime({ offset: true }),
    until: z.iso.datetime({ offset: true }),
    factor: nonNegative.max(100).describe('multiplies the rate while it lasts'),
  })
  .refine((e) => Date.parse(e.until) > Date.parse(e.from), { path: ['until'], error: 'must be later than "from"' })

/** How unevenly arrivals come around their rate; the mean rate stays what it is. */
export const BurstsSchema = z.discriminatedUnion('kind', [
  z.strictObject({
    kind: z.literal('gamma'),
    variation: positive.max(20).describe('coefficient of variation of the gaps: 1 is a Poisson process, more comes in clumps, less evenly'),
  }),
  z
    .strictObject({
      kind: z.literal('two-state'),
      factor: z.number().gt(1).max(1000).describe('multiplies the rate in bursts; between them it is lower, so that the mean stays'),
      burstSeconds: positive.describe('mean duration of a burst'),
      quietSeconds: positive.describe('mean time between bursts'),
    })
    .refine((b) => (b.factor * b.burstSeconds) / (b.burstSeconds + b.quietSeconds) <= 1, {
      path: ['factor'],
      error: 'must be at most (burstSeconds + quietSeconds) / burstSeconds: more would leave less than nothing between bursts',
    }),
])

/** What any rate that a plan states may have laid over it. */
export const rateShapes = {
  spikes: z.array(SpikeSchema).max(100).optional(),
  events: z.array(EventSchema).max(400).optional().describe('calendar events, by date'),
  growthPerMonth: z.number().gt(-1).max(10).optional().describe('0.1 is 10 per cent more each month of 730 hours'),
  bursts: BurstsSchema.optional(),
}

/** Between caller and service: what a measure at the caller has beside one at the service. */
export const WaySchema = z
  .strictObject({
    seconds: nonNegative.describe('from the caller to the service, and as long back'),
    bytesPerSecond: positive.optional().describe('of the narrowest part of the way; without it bytes take no time'),
    requestBytes: nonNegative.optional().describe('sent to the service before it can begin; 0 if left out'),
    answerBytes: nonNegative
      .optional()
      .describe('sent back once the answer is there; 0 if left out, as for answers that come token by token'),
  })
  .refine((w) => w.bytesPerSecond !== undefined || !(w.requestBytes || w.answerBytes), {
    path: ['bytesPerSecond'],
    error: 'is missing: without a rate nobody knows how long those bytes take',
  })

export type Way = z.infer<typeof WaySchema>
export type Bursts = z.infer<typeof BurstsSchema>
export type Spike = z.infer<typeof SpikeSchema>
export type Size = z.infer<typeof SizeSchema>
