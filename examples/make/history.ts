import { exampleRequests } from './log.ts'

const STEP_SECONDS = 1800
const WEEK_SECONDS = 7 * 86_400
/** The server was begun anew just after the sample before, and counted from 0. */
const RESTART_SECONDS = 3 * 86_400 + 2 * STEP_SECONDS

/** The week of the example log as a monitoring system would answer a query over its range: three counters of each class. */
export function exampleHistory(): string {
  const { requests, names, startMs } = exampleRequests()
  const counted = ['harbour_calls_total', 'harbour_prompt_tokens_total', 'harbour_answer_tokens_total']
  const shown = counted.map(() => names.map(() => 0))
  const values = counted.map(() => names.map((): [number, string][] => []))
  let i = 0
  for (let t = 0; t <= WEEK_SECONDS; t += STEP_SECONDS) {
    if (t === RESTART_SECONDS) for (const list of shown) list.fill(0)
    for (; i < requests.count && requests.at[i] <= t; i++)
      [1, requests.input[i], requests.output[i]].forEach((n, k) => (shown[k][requests.classIndex[i]] += n))
    values.forEach((list, k) => list.forEach((of, c) => of.push([startMs / 1000 + t, String(shown[k][c])])))
  }
  const result = counted.flatMap((name, k) =>
    names.map((desk, c) => ({ metric: { __name__: name, desk, instance: 'quay:9000' }, values: values[k][c] })),
  )
  return `${JSON.stringify({ status: 'success', data: { resultType: 'matrix', result } })}\n`
}
