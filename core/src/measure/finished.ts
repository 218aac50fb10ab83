import { Outcome } from '../engine/outcome.ts'
import type { RunRecord } from '../engine/record.ts'

/** Finished requests of a run and their tokens, warm-up included: what the money bought. */
export function finishedOf(record: RunRecord, hasTokens: boolean): { requests: number; tokens: number } {
  let requests = 0
  let tokens = 0
  for (let i = 0; i < record.requests.count; i++) {
    if (record.outcome[i] !== Outcome.finished) continue
    requests++
    if (hasTokens) tokens += record.requests.input[i] + record.requests.output[i]
  }
  return { requests, tokens }
}
