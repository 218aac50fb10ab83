import * as z from 'zod'
import { count, name, nonNegative, positive, share } from './primitives.ts'

const rowParts = {
  concurrency: count.max(100_000).describe('requests side by side, or items of a batch'),
  count: count.optional().describe('requests behind the figures; 1 if left out'),
}

/** One line of a load test: means over `count` requests. */
export const MeasurementRowSchema = z.strictObject({
  ...rowParts,
  input: count.optional().describe('prompt tokens of each request'),
  output: count.optional().describe('answer tokens of each request'),
  work: nonNegative.optional().describe('work units of each item, for fixed work'),
  ttftSeconds: positive.optional(),
  tpotSeconds: positive.optional(),
  latencySeconds: positive.optional(),
})

/** A load test of one replica of a variant on one machine. */
export const MeasurementSchema = z.strictObject({
  machine: name,
  devices: count.optional().describe('devices of the replica; 1 if left out'),
  source: z.string().max(400).optional().describe('who measured, when, how'),
  concurrencyStated: z
    .boolean()
    .optional()
    .describe('false when the table did not say how many requests were side by side; true if left out'),
  warmedUp: z.boolean().optional().describe('false when start-up is within the figures; true if left out'),
  rows: z.array(MeasurementRowSchema).min(1).max(5000),
})

/** Behind which measured requests step costs were found. */
export const FoundSchema = z.strictObject({
  by: z.string().min(1).max(400).describe('who measured, when, how'),
  concurrency: count.max(100_000).describe('most requests side by side among them'),
  input: count.describe('tokens of the longest prompt'),
  output: count.describe('tokens of the longest answer'),
  within: share.optional().describe('how far off the median and p95 of requests were that were not fitted, at the most'),
  certainty: z
    .strictObject({
      way: nonNegative.describe('W: seconds of the way of a request'),
      intervals: z.array(z.strictObject({ low: nonNegative, high: nonNegative })).length(6),
      correlation: z.array(z.array(z.number().min(-1.0001).max(1.0001)).length(6)).length(6),
    })
    .optional()
    .describe('95 % intervals of P0, P1, M, O, m1 and W, both ends alike where one is not unsure, and their correlation'),
})

export type Found = z.infer<typeof FoundSchema>
export type MeasurementRow = z.infer<typeof MeasurementRowSchema>
export type Measurement = z.infer<typeof MeasurementSchema>
