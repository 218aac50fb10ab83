import { Outcome, RejectCause } from '../engine/outcome.ts'
import type { RunRecord } from '../engine/record.ts'
import { selected, type Selection } from './measures.ts'

/** How requests ended. Arrivals are always the sum of the five outcomes. */
export interface Counts {
  arrivals: number
  finished: number
  rejected: number
  abandoned: number
  failed: number
  unfinished: number
  /** of the rejected: larger than a replica can take */
  tooLarge: number
  inputTokens: number
  outputTokens: number
}

/** Counts outcomes; tokens are those of finished requests. */
export function countOutcomes(record: RunRecord, selection: Selection): Counts {
  const byOutcome = [0, 0, 0, 0, 0]
  const out = { tooLarge: 0, inputTokens: 0, outputTokens: 0 }
  for (let i = 0; i < record.requests.count; i++) {
    if (!selected(record, i, selection)) continue
    byOutcome[record.outcome[i]]++
    if (record.rejectCause[i] === RejectCause.tooLarge) out.tooLarge++
    if (record.outcome[i] !== Outcome.finished) continue
    out.inputTokens += record.requests.input[i]
    out.outputTokens += record.requests.output[i]
  }
  const [unfinished, finished, rejected, abandoned, failed] = byOutcome
  return { arrivals: unfinished + finished + rejected + abandoned + failed, finished, rejected, abandoned, failed, unfinished, ...out }
}
