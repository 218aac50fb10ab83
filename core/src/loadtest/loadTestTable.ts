import { duration } from '../units/duration.ts'
import { percent, threeDigits } from '../units/number.ts'
import type { LoadTest, Percentiles } from './loadTest.ts'

/** A load test as a table: a step a row, told the same way in the page and on the command line. */
export function loadTestTable({ steps, pressing }: LoadTest): { header: string[]; rows: string[][] } {
  const hasTokens = steps[0]?.ttft !== undefined
  const spread = (p: Percentiles) => [p.p50, p.p90, p.p95, p.p99].map((seconds) => duration(seconds))
  return {
    header: [
      ...(pressing === 'at once' ? ['at once'] : ['come/s']),
      pressing === 'at once' ? 'requests/s' : 'answered/s',
      ...(hasTokens ? ['answer tokens/s'] : []),
      ...['p50', 'p90', 'p95', 'p99'],
      'waiting',
      ...(hasTokens ? ['first p50', 'first p90', 'first p95', 'first p99'] : []),
      'counted',
    ],
    rows: steps.map((s) => [
      s.clients === undefined ? threeDigits(s.offeredPerSecond) : String(s.clients),
      threeDigits(s.requestsPerSecond),
      ...(s.answerTokensPerSecond === undefined ? [] : [threeDigits(s.answerTokensPerSecond)]),
      ...spread(s.latency),
      percent(s.waitShare),
      ...(s.ttft ? spread(s.ttft) : []),
      String(s.requests),
    ]),
  }
}
