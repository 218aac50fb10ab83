import * as z from 'zod'
import { BadInput } from '../plan/problem.ts'
import { zodProblems } from '../plan/zodProblems.ts'
import { readHowToAsk, type HowToAsk } from './howToAsk.ts'
import { MOST_AT_ONCE, MOST_THROUGH_SERVER, secondsOfShape, type ProbeShape, type TimedShape } from './shape.ts'
import type { ProbePromise } from './summary.ts'

/** What a probe may not go beyond. */
export interface ProbeBounds {
  requests: number
  seconds: number
  /** in the currency of how it is asked; Infinity where it has no price */
  money: number
}

/** What a figure of a load may be, its ends included: of the command line and of the application. */
export const PROBE_RANGES = {
  calls: [1, 1e6],
  clients: [1, MOST_AT_ONCE],
  each: [1, 1e5],
  perSecond: [1e-4, 1e4],
  lastsSeconds: [1, 86_400],
  idleSeconds: [0, 86_400],
  soughtSeconds: [1, 86_400],
  /** of a log, from its first request on: what is measured ends by its bounds */
  logSeconds: [0, 1e9],
  times: [1, 1000],
  tokens: [1, 1e6],
  warmUp: [0, 1000],
  seed: [0, 4_294_967_295],
  mostRequests: [1, 1e6],
  mostSeconds: [1, 7 * 86_400],
  mostMoney: [0, 1e9],
  promisedSeconds: [0, 3600],
} as const satisfies Record<string, readonly [number, number]>
export type ProbeRange = keyof typeof PROBE_RANGES

const number = (of: ProbeRange) => z.number().min(PROBE_RANGES[of][0]).max(PROBE_RANGES[of][1])
const whole = (of: ProbeRange) => z.int().min(PROBE_RANGES[of][0]).max(PROBE_RANGES[of][1])
const MOST_SIZES = 10_000

const size = z.strictObject({ input: whole('tokens'), output: whole('tokens'), prompt: z.string().min(1).max(1e6).optional() })
const common = {
  sizes: z.array(size).min(1).max(MOST_SIZES),
  apart: z.boolean().optional(),
  warmUp: whole('warmUp').default(1),
  seed: whole('seed').default(1),
}
const clients = z.array(whole('clients')).min(1).max(20)

const ShapeSchema = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('one'), ...common }),
  z.strictObject({ kind: z.literal('one-after-another'), requests: whole('calls'), ...common }),
  z.strictObject({ kind: z.literal('at-once'), clients: clients.nullable(), requestsEach: whole('each'), ...common }),
  z.strictObject({
    kind: z.literal('rates'),
    perSecond: z.array(number('perSecond')).min(1).max(50),
    seconds: number('lastsSeconds'),
    ...common,
  }),
  z.strictObject({ kind: z.literal('after-idle'), idleSeconds: number('idleSeconds'), times: whole('times'), ...common }),
  z.strictObject({ kind: z.literal('find-idle'), fromSeconds: number('soughtSeconds'), mostSeconds: number('soughtSeconds'), ...common }),
  z
    .strictObject({
      kind: z.literal('log'),
      at: z
        .array(number('logSeconds'))
        .min(1)
        .max(MOST_THROUGH_SERVER)
        .refine((at) => at.every((t, i) => i === 0 || t >= at[i - 1]), { error: 'must be in order of its times' }),
      asking: z.array(size).min(1).max(MOST_THROUGH_SERVER),
      ...common,
    })
    .refine((s) => s.at.length === s.asking.length, { path: ['asking'], error: 'must be as many as there are times' }),
  z.strictObject({ kind: z.literal('find-costs'), clients, requestsEach: whole('each'), judgeSeconds: number('lastsSeconds'), ...common }),
])

const OrderSchema = z.strictObject({
  how: z.string().max(100_000),
  shape: ShapeSchema,
  bounds: z
    .strictObject({
      requests: whole('mostRequests').optional(),
      seconds: number('mostSeconds').optional(),
      money: number('mostMoney').optional(),
    })
    .default({}),
  promise: z
    .strictObject({ firstTokenSeconds: number('promisedSeconds').optional(), latencySeconds: number('promisedSeconds').optional() })
    .default({}),
})

/** A measurement as it is asked for: how to ask as the text of its file, and with which load. */
export type StatedOrder = z.input<typeof OrderSchema>
export type StatedShape = StatedOrder['shape']
/** The same, read. */
export interface ReadOrder {
  how: HowToAsk
  shape: ProbeShape
  bounds: ProbeBounds
  promise: ProbePromise
}

const TITLE = 'This can not be measured.'

/**
 * A measurement that is asked for as JSON.
 *
 * @throws BadInput with every problem of it, or of how to ask
 */
export function readOrder(value: unknown): ReadOrder {
  const parsed = OrderSchema.safeParse(value)
  if (!parsed.success) throw new BadInput(TITLE, zodProblems(parsed.error.issues, value))
  const { how: text, shape, bounds, promise } = parsed.data
  const how = readHowToAsk(text)
  // Absent fields are left out.
  const load = (shape.kind === 'log' ? { ...shape, at: Float64Array.from(shape.at) } : shape) as ProbeShape
  return { how, shape: load, bounds: boundsOf(how, load, bounds), promise: promise as ProbePromise }
}

/** Requests that are sent at the most where nothing is said, and seconds beside the times that a load has of its own. */
const USUAL_REQUESTS = 1000
const USUAL_SECONDS = 600
export const usualBounds = (shape: TimedShape): { requests: number; seconds: number } => ({
  requests: USUAL_REQUESTS,
  seconds: secondsOfShape(shape) + USUAL_SECONDS,
})

/**
 * What a probe may not go beyond, with what is usual where nothing is said.
 *
 * @throws BadInput for a bound on money that can not be kept, since nobody says what a request costs
 */
export function boundsOf(
  how: HowToAsk,
  shape: ProbeShape,
  { requests, seconds, money }: Partial<Record<keyof ProbeBounds, number | undefined>>,
): ProbeBounds {
  if (money !== undefined && !how.price)
    throw new BadInput(TITLE, [
      {
        path: 'most money',
        rule: 'can not be kept: how to ask does not say what a request costs; state its "price", or no bound on money',
      },
    ])
  const usual = usualBounds(shape)
  return { requests: requests ?? usual.requests, seconds: seconds ?? usual.seconds, money: money ?? Infinity }
}
