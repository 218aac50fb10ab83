import type { ProbedRequest } from '../probed.ts'

/** Requests that finished and streamed, in the order in which they were sent: of these alone step costs can be told. */
export const streamedOf = (rows: readonly ProbedRequest[]): ProbedRequest[] =>
  rows
    .filter((r) => r.outcome === 'finished' && !r.warmUp && r.output > 1 && r.firstToken > r.sent && r.end > r.firstToken)
    .sort((a, b) => a.sent - b.sent)
