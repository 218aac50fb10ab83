import { isAfterIdle } from '../idle.ts'
import type { ProbedRequest } from '../probed.ts'

/**
 * Requests that finished and streamed, in the order in which they were sent: of these alone step costs can be told. First calls after idle
 * are not among them: what they waited for may be a start-up.
 */
export const streamedOf = (rows: readonly ProbedRequest[]): ProbedRequest[] =>
  rows
    .filter(
      (r) => r.outcome === 'finished' && !r.warmUp && !isAfterIdle(r.part) && r.output > 1 && r.firstToken > r.sent && r.end > r.firstToken,
    )
    .sort((a, b) => a.sent - b.sent)
