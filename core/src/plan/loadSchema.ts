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
  z.strictObject({
    kind: z.literal('empirical'),
    values: z.array(count).min(1).max(20_000).describe('each value is drawn equally often'),
  }),
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

/** What any generated rate may have laid over it. */
const shapes = {
  spikes: z.array(SpikeSchema).max(100).optional(),
  events: z.array(EventSchema).max(400).optional().describe('calendar events, by date'),
  growthPerMonth: z.number().gt(-1).max(10).optional().describe('0.1 is 10 per cent more each month of 730 hours'),
  bursts: BurstsSchema.optional(),
}

/** When the requests of a class arrive. */
export const ArrivalsSchema = z.discriminatedUnion('kind', [
  z.strictObject({
    kind: z.literal('steady'),
    ratePerSecond: nonNegative,
    ...shapes,
  }),
  z.strictObject({
    kind: z.literal('weekly'),
    ratePerSecond: nonNegative.describe('multiplied by the shares of the day and of the hour'),
    days: z.array(nonNegative).length(7).describe('share of each day, Monday first, by the clock of the horizon’s start'),
    hours: z.array(nonNegative).length(24).describe('share of each hour of the day'),
    ...shapes,
  }),
  z.strictObject({
    kind: z.literal('closed-loop'),
    clients: count.max(1_000_000).describe('each sends one request after the other, as a load test does'),
    requestsPerClient: count.max(10_000_000),
    thinkSeconds: nonNegative.describe('from the end of one request to the next; the mean when exponential'),
    thinking: z.enum(['fixed', 'exponential']).optional().describe('fixed if left out'),
    startSeconds: nonNegative.optional(),
    rampSeconds: nonNegative.optional().describe('the clients begin evenly over so long; all at once if left out'),
  }),
  z.strictObject({
    kind: z.literal('hourly'),
    ratesPerSecond: z
      .array(nonNegative)
      .min(1)
      .max(8784)
      .describe('one rate for each hour of the horizon; a shorter list starts over when it ends'),
    ...shapes,
  }),
  z.strictObject({ kind: z.literal('log') }),
])

export type Arrivals = z.infer<typeof ArrivalsSchema>
export type GeneratedArrivals = Exclude<Arrivals, { kind: 'log' | 'closed-loop' }>
export type ClosedLoop = Extract<Arrivals, { kind: 'closed-loop' }>
export type Bursts = z.infer<typeof BurstsSchema>
export type Spike = z.infer<typeof SpikeSchema>
export type Size = z.infer<typeof SizeSchema>
