import * as z from 'zod'
import { BadInput } from '../../plan/problem.ts'
import { zodProblems } from '../../plan/zodProblems.ts'
import { seriesOf, type Series } from './series.ts'

const sample = z.tuple([z.number(), z.string()])
const labels = z.record(z.string(), z.string())
const Result = z.discriminatedUnion('resultType', [
  z.object({ resultType: z.literal('matrix'), result: z.array(z.object({ metric: labels, values: z.array(sample) })) }),
  z.object({ resultType: z.literal('vector'), result: z.array(z.object({ metric: labels, value: sample })) }),
])
const Response = z.discriminatedUnion('status', [
  z.object({ status: z.literal('success'), data: Result }),
  z.object({ status: z.literal('error'), errorType: z.string().optional(), error: z.string().optional() }),
])

/** Whether a value is what monitoring systems answer to a query over a range of time, or several of them in a list. */
export function looksLikeHistory(value: unknown): boolean {
  const [first] = Array.isArray(value) ? (value as unknown[]) : [value]
  return typeof first === 'object' && first !== null && 'status' in first && ('data' in first || 'errorType' in first || 'error' in first)
}

/**
 * Reads the JSON of range queries.
 *
 * @param value one answer, or a list of them
 * @throws BadInput for answers that are errors, and for what is none
 */
export function readRangeQueries(value: unknown): Series[] {
  return (Array.isArray(value) ? (value as unknown[]) : [value]).flatMap(readOne)
}

function readOne(value: unknown): Series[] {
  const read = Response.safeParse(value)
  if (!read.success) throw new BadInput('This is no answer to a query over a range of time.', zodProblems(read.error.issues, value))
  const { data: response } = read
  if (response.status === 'error')
    throw new BadInput('The monitoring server answered with an error.', [
      { path: response.errorType ?? 'error', rule: response.error ?? 'is not explained' },
    ])
  const { data } = response
  const all = data.resultType === 'matrix' ? data.result : data.result.map(({ metric, value: only }) => ({ metric, values: [only] }))
  return all.map(({ metric: { __name__: name = '', ...rest }, values }) =>
    seriesOf(
      name,
      rest,
      values.map(([at, text]) => [at, numberOf(text)] as const),
    ),
  )
}

/** As samples are written: NaN, +Inf and −Inf by name. */
export const numberOf = (text: string): number => (/^[+-]?Inf$/i.test(text) ? (text.startsWith('-') ? -Infinity : Infinity) : Number(text))
