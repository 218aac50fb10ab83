import { CAUSES, Outcome, RejectCause } from '../engine/outcome.ts'
import { came, type RunRecord } from '../engine/record.ts'
import { selected, type Selection } from './measures.ts'

/** How requests ended. Arrivals are always the sum of the five outcomes. */
export interface Counts {
  arrivals: number
  finished: number
  rejected: number
  abandoned: number
  failed: number
  unfinished: number
  /** of the rejected, by the cause of their last attempt; they add up to it */
  tooLarge: number
  queueFull: number
  rateLimited: number
  asleep: number
  /** finished answers that were cut off at the output cap */
  cutOff: number
  /** further attempts of those who retry */
  retries: number
  inputTokens: number
  outputTokens: number
}

/** Counts outcomes of those who came; tokens are those of finished requests. */
export function countOutcomes(record: RunRecord, selection: Selection): Counts {
  const { requests } = record
  const byOutcome = [0, 0, 0, 0, 0]
  const byCause = new Array<number>(CAUSES).fill(0)
  const out = { cutOff: 0, retries: 0, inputTokens: 0, outputTokens: 0 }
  for (let i = 0; i < requests.count; i++) {
    if (!selected(record, i, selection) || !came(record, i)) continue
    byOutcome[record.outcome[i]]++
    byCause[record.rejectCause[i]]++
    if (record.retries) out.retries += record.retries[i]
    if (record.outcome[i] !== Outcome.finished) continue
    if (requests.cutOff) out.cutOff += requests.cutOff[i]
    out.inputTokens += requests.input[i]
    out.outputTokens += requests.output[i]
  }
  const [unfinished, finished, rejected, abandoned, failed] = byOutcome
  const { tooLarge, queueFull, rateLimited, asleep } = RejectCause
  return {
    arrivals: unfinished + finished + rejected + abandoned + failed,
    finished,
    rejected,
    abandoned,
    failed,
    unfinished,
    tooLarge: byCause[tooLarge],
    queueFull: byCause[queueFull],
    rateLimited: byCause[rateLimited],
    asleep: byCause[asleep],
    ...out,
  }
}
