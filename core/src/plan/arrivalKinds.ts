import * as z from 'zod'
import { rateShapes } from './loadSchema.ts'
import { count, nonNegative } from './primitives.ts'

/** What decides when requests come: a rate that the plan states, clients who wait for their answers, or the rows of a log. */
type ArrivalSource = 'rate' | 'clients' | 'log'

interface ArrivalKindOf {
  from: ArrivalSource
  /** what it is, for those who write plans */
  means: string
  /** whether its rate changes with time before anything is laid over it, so that a class sends "up to" its largest */
  varies: boolean
  /** of what its figures in the sentence of a class do not show; none if empty */
  remark: string
  schema: z.ZodObject
}

/** When the requests of a class arrive. What the rate of each is that has one is in demand/rateKinds. */
export const ARRIVALS = {
  steady: {
    from: 'rate',
    means: 'a Poisson process',
    varies: false,
    remark: '',
    schema: z.strictObject({ kind: z.literal('steady'), ratePerSecond: nonNegative, ...rateShapes }),
  },
  weekly: {
    from: 'rate',
    means: 'the rate times the share of the day (Monday first) and of the hour (24 of them), by the clock of the horizon’s start',
    varies: true,
    remark: 'Its rate follows the days of the week and the hours of the day.',
    schema: z.strictObject({
      kind: z.literal('weekly'),
      ratePerSecond: nonNegative.describe('multiplied by the shares of the day and of the hour'),
      days: z.array(nonNegative).length(7).describe('share of each day, Monday first, by the clock of the horizon’s start'),
      hours: z.array(nonNegative).length(24).describe('share of each hour of the day'),
      ...rateShapes,
    }),
  },
  'closed-loop': {
    from: 'clients',
    means: 'each client sends its next request a pause after the last one ended, as a load test does',
    varies: false,
    remark: '',
    schema: z.strictObject({
      kind: z.literal('closed-loop'),
      clients: count.max(1_000_000).describe('each sends one request after the other, as a load test does'),
      requestsPerClient: count.max(10_000_000),
      thinkSeconds: nonNegative.describe('from the end of one request to the next; the mean when exponential'),
      thinking: z.enum(['fixed', 'exponential']).optional().describe('fixed if left out'),
      startSeconds: nonNegative.optional(),
      rampSeconds: nonNegative.optional().describe('the clients begin evenly over so long; all at once if left out'),
    }),
  },
  hourly: {
    from: 'rate',
    means: 'a Poisson process whose rate changes every hour of the horizon; a shorter list starts over',
    varies: true,
    remark: '',
    schema: z.strictObject({
      kind: z.literal('hourly'),
      ratesPerSecond: z
        .array(nonNegative)
        .min(1)
        .max(8784)
        .describe('one rate for each hour of the horizon; a shorter list starts over when it ends'),
      ...rateShapes,
    }),
  },
  log: { from: 'log', means: 'the rows of the request log', varies: false, remark: '', schema: z.strictObject({ kind: z.literal('log') }) },
} as const satisfies Record<string, ArrivalKindOf>

export type ArrivalKind = keyof typeof ARRIVALS
type ArrivalsOf<K extends ArrivalKind> = z.infer<(typeof ARRIVALS)[K]['schema']>
type KindsFrom<F extends ArrivalSource> = { [K in ArrivalKind]: (typeof ARRIVALS)[K]['from'] extends F ? K : never }[ArrivalKind]

export type Arrivals = { [K in ArrivalKind]: ArrivalsOf<K> }[ArrivalKind]
/** Arrivals at a rate that the plan states. */
export type GeneratedArrivals = { [K in KindsFrom<'rate'>]: ArrivalsOf<K> }[KindsFrom<'rate'>]
export type ClosedLoop = ArrivalsOf<KindsFrom<'clients'>>

type Schemas = (typeof ARRIVALS)[ArrivalKind]['schema']
export const ArrivalsSchema = z.discriminatedUnion(
  'kind',
  Object.values(ARRIVALS).map((a) => a.schema) as unknown as readonly [Schemas, ...Schemas[]],
) // not empty

/** The arrivals as those at a rate of their own, or undefined: a log and a closed loop have none. */
export function withRate(arrivals: Arrivals): GeneratedArrivals | undefined {
  return ARRIVALS[arrivals.kind].from === 'rate' ? (arrivals as GeneratedArrivals) : undefined // by the table
}

/** Whether requests come when others have ended, so that their times follow from the run. */
export function isClosedLoop(arrivals: Arrivals): arrivals is ClosedLoop {
  return ARRIVALS[arrivals.kind].from === 'clients'
}

/** Whether requests come as the rows of a log do. */
export function isFromLog(arrivals: Arrivals): arrivals is ArrivalsOf<KindsFrom<'log'>> {
  return ARRIVALS[arrivals.kind].from === 'log'
}
